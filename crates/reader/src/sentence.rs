//! A line cut where its sentences end.

/// The parts of a line that hold anything, cut behind each character at which `ends` says so of what stands before it in
/// its part, of itself and of what follows.
pub(crate) fn parted(line: &str, ends: impl Fn(&str, char, &str) -> bool) -> Vec<&str> {
    let mut out = Vec::new();
    let mut from = 0;
    for (i, c) in line.char_indices() {
        let after = i + c.len_utf8();
        if ends(&line[from..i], c, &line[after..]) {
            out.push(line[from..i].trim());
            from = after;
        }
    }
    out.push(line[from..].trim());
    out.retain(|s| !s.is_empty());
    out
}
