//! Who may know whom: every arrow between two modules of a crate is in this table, and the table has no
//! circle. A new arrow is a decision, to be made here.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// A module, and the modules that it may use.
type Arrows = (&'static str, &'static str);

/// The crates, what each may depend on of the others, and for each of its modules the modules it may use.
/// Modules stand from the bottom up: one may use only what stands above it here.
const TABLE: &[(&str, &[&str], &[Arrows])] = &[
    (
        "core",
        &[],
        &[
            ("choice", ""),
            ("fault", ""),
            ("units", ""),
            ("notation", "choice units"),
            ("typed", "notation units"),
            ("words", "choice"),
            ("range", "fault units"),
            ("pantry", "choice fault range units words"),
            ("finish", "choice pantry units words"),
            ("mix", "choice fault pantry range units words"),
            ("rise", "choice fault range units words"),
            ("shape", "choice fault range rise units words"),
            ("oven", "choice fault range rise shape units words"),
            ("kitchen", "choice fault notation oven pantry range rise shape units words"),
            ("day", "choice fault kitchen units words"),
            ("formula", "day fault finish kitchen mix oven pantry range rise shape units words"),
            ("stations", "day fault finish formula kitchen mix oven pantry rise shape units words"),
            ("formats", "choice day fault formula kitchen pantry stations units words"),
            ("plan", "choice day fault formula kitchen pantry rise stations units words"),
            ("watch", "fault formula kitchen mix pantry rise stations units"),
            ("bake", "choice day fault formula kitchen pantry plan rise stations units watch"),
        ],
    ),
    (
        "reader",
        &["core"],
        &[
            ("quantity", ""),
            ("heading", ""),
            ("sentence", ""),
            ("name", ""),
            ("finding", ""),
            ("lines", "quantity"),
            ("lead_in", "quantity"),
            ("parts", "quantity"),
            ("either", "name quantity"),
            ("purpose", "heading quantity"),
            ("arrange", "heading lead_in name parts purpose quantity"),
            ("weigh", "arrange lines quantity"),
            ("left_over", "name quantity weigh"),
            ("step", "arrange lead_in name quantity"),
            ("line", "arrange either heading left_over lines name parts purpose quantity step weigh"),
            ("told", "heading lines name quantity weigh"),
            ("besides", "line lines name purpose told"),
            ("course", "finding quantity sentence"),
            ("layout", "arrange course heading name quantity step"),
            ("method", "course finding quantity sentence"),
            ("propose", "finding lines"),
            ("doubt", "lines"),
            ("read", "arrange besides course finding heading layout line lines method name propose"),
        ],
    ),
    (
        "devices",
        &[],
        &[
            ("protocol", ""),
            ("oven", "protocol"),
            ("probe", "protocol"),
            ("scale", "protocol"),
            ("serve", "protocol"),
            ("follow", "protocol"),
        ],
    ),
    (
        "store",
        &["core"],
        &[
            ("demo", ""),
            ("clock", ""),
            ("finding", ""),
            ("private", ""),
            ("error", "finding"),
            ("file", "finding"),
            ("file_lock", "private"),
            ("rescue", "file private"),
            ("open", "file file_lock private rescue"),
            ("plain_tables", "open"),
            ("backup", "file file_lock open plain_tables private rescue"),
            ("nightly", "backup private"),
            ("mend", "file file_lock finding open rescue"),
            ("watch", "file finding"),
            ("schema", ""),
            ("riders", ""),
            ("settings", "schema"),
            ("keeping", "schema"),
            ("documents", "riders schema"),
            ("devices", "documents schema"),
            ("one_row", "documents"),
            ("versions", "documents schema"),
            ("formulas", "documents schema versions"),
            ("bakes", "documents schema"),
            ("kitchens", "documents one_row schema"),
            ("cupboards", "documents formulas one_row schema"),
            ("doughs", "bakes cupboards documents kitchens schema"),
            ("bin", "cupboards documents schema"),
            ("photos", "backup bakes schema"),
            ("day_plans", "bakes documents one_row schema"),
            ("household", "backup bakes cupboards demo formulas kitchens schema settings"),
        ],
    ),
    (
        "web",
        &["core", "devices", "reader", "store"],
        &[
            ("download", ""),
            ("measures", ""),
            ("notation", ""),
            ("form", ""),
            ("show", ""),
            ("asks", "form"),
            ("household", ""),
            ("picture", "form show"),
            ("day", "form picture show"),
            ("last_read", "household measures"),
            ("mix", "form picture show"),
            ("oven", "asks form picture show"),
            ("rise", "asks form household picture show"),
            ("shape", "asks form picture show"),
            ("view", "form household picture show"),
            ("error", "form view"),
            ("assets", "error"),
            ("installed", "assets error"),
            ("posted", "error form"),
            ("routes", "error"),
            ("arrival", "error"),
            ("sharing", "error household posted routes"),
            ("watching", "error posted sharing"),
            ("listeners", "measures"),
            ("live", "error household listeners sharing"),
            ("instruments", "error form live posted sharing"),
            ("bake", "error form household instruments live measures picture posted sharing show view"),
            ("today", "bake error household picture sharing show"),
            ("security", "error sharing"),
            ("seen", "error measures sharing"),
            ("backups", "arrival error household posted sharing"),
            ("bin", "error household posted sharing"),
            ("bring", "error form household posted sharing view"),
            ("cupboard", "error form household posted sharing view"),
            ("days", "download error form household live measures notation picture posted sharing show"),
            (
                "formula_page",
                "asks day error form household last_read mix notation oven picture posted rise shape sharing show",
            ),
            ("formulas", "backups download error form household picture posted sharing show"),
            ("kitchen", "download error form notation oven picture posted sharing show"),
            ("sure", "error"),
            ("versions", "error household picture posted sharing view"),
            ("words", "error picture"),
        ],
    ),
    (
        "cerealis",
        &["core", "devices", "reader", "store", "web"],
        &[("compute", ""), ("device", ""), ("keeper", ""), ("log", ""), ("place", "")],
    ),
];

fn crates() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().unwrap().to_owned()
}

/// Every source file below a folder, with the top module that it belongs to.
fn sources(src: &Path) -> Vec<(String, String)> {
    let mut all = Vec::new();
    let mut folders = vec![src.to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(&folder).unwrap().map(|e| e.unwrap().path()) {
            if entry.is_dir() {
                folders.push(entry);
            } else if entry.extension().is_some_and(|e| e == "rs") && !entry.ends_with("tests.rs") {
                let within = entry.strip_prefix(src).unwrap().with_extension("");
                let top = within.components().next().unwrap().as_os_str().to_str().unwrap().to_owned();
                all.push((top, std::fs::read_to_string(&entry).unwrap()));
            }
        }
    }
    all
}

/// The modules of its own crate that a text names: in imports, in groups of them, and in paths.
fn named(text: &str, modules: &BTreeSet<&str>) -> BTreeSet<String> {
    // What a test needs beside the module itself is no arrow of the house.
    let text = text.split("#[cfg(test)]\nmod tests").next().unwrap();
    let code: String =
        text.lines().filter(|l| !l.trim_start().starts_with("//")).map(|l| format!("{l}\n")).collect();
    let mut found = BTreeSet::new();
    for (at, _) in code.match_indices("crate::") {
        if code[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_') {
            continue;
        }
        let rest = &code[at + "crate::".len()..];
        // In a group, `{documents::of, schema}`, every part names a module.
        let mut depth = 0;
        let group = rest.split(|c: char| {
            depth += i32::from(c == '{') - i32::from(c == '}');
            (depth == 1 && (c == '{' || c == ',')) || (depth <= 0 && !(c.is_alphanumeric() || c == '_'))
        });
        let parts: Vec<&str> = if rest.starts_with('{') {
            group.skip(1).take_while(|p| !p.is_empty()).map(str::trim).collect()
        } else {
            vec![rest]
        };
        for part in parts {
            let word: String = part.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
            if modules.contains(word.as_str()) {
                found.insert(word);
            }
        }
    }
    found
}

/// What `lib.rs` and `main.rs` put together is no module of its own.
fn is_root(module: &str) -> bool {
    matches!(module, "lib" | "main")
}

#[test]
fn every_arrow_is_in_the_table() {
    let mut wrong = Vec::new();
    for (name, _, modules) in TABLE {
        let allowed: BTreeMap<&str, BTreeSet<&str>> =
            modules.iter().map(|(m, may)| (*m, may.split_whitespace().collect())).collect();
        let all: BTreeSet<&str> = allowed.keys().copied().collect();
        let mut seen: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
        for (module, text) in sources(&crates().join(name).join("src")) {
            if is_root(&module) {
                continue;
            }
            let mut used = named(&text, &all);
            used.remove(&module);
            seen.entry(module).or_default().extend(used);
        }
        for (module, used) in &seen {
            let Some(may) = allowed.get(module.as_str()) else {
                wrong.push(format!("{name}: {module} is not in the table"));
                continue;
            };
            wrong.extend(
                used.iter().filter(|u| !may.contains(u.as_str())).map(|u| format!("{name}: {module} → {u}")),
            );
        }
        for (module, may) in &allowed {
            let used = seen.get(*module).cloned().unwrap_or_default();
            wrong.extend(
                may.iter()
                    .filter(|m| !used.contains(**m))
                    .map(|m| format!("{name}: {module} no longer uses {m}")),
            );
        }
    }
    assert_eq!(wrong, Vec::<String>::new());
}

#[test]
fn the_table_has_no_circle() {
    for (name, _, modules) in TABLE {
        for (n, (module, may)) in modules.iter().enumerate() {
            for used in may.split_whitespace() {
                let at = modules.iter().position(|(m, _)| *m == used);
                assert!(at.is_some_and(|at| at < n), "{name}: {module} uses {used}, which stands below it");
            }
        }
    }
}

#[test]
fn crates_depend_in_one_direction() {
    for (name, may, _) in TABLE {
        let manifest = std::fs::read_to_string(crates().join(name).join("Cargo.toml")).unwrap();
        let plain = manifest.split("[dev-dependencies]").next().unwrap();
        for other in ["core", "reader", "store", "web"] {
            let uses = plain.contains(&format!("cerealis-{other}.workspace"));
            assert_eq!(uses, may.contains(&other), "{name} and cerealis-{other}");
        }
    }
}

#[test]
fn facades_name_what_they_hand_on() {
    for (name, ..) in TABLE {
        for (module, text) in sources(&crates().join(name).join("src")) {
            let globs: Vec<&str> =
                text.lines().filter(|l| l.trim_start().starts_with("pub use") && l.contains("::*")).collect();
            assert!(globs.is_empty(), "{name}: {module}: {globs:?}");
        }
    }
}

/// The time is asked for in one place; everyone else is told it.
#[test]
fn one_place_asks_for_the_time() {
    for (name, ..) in TABLE {
        for (module, text) in sources(&crates().join(name).join("src")) {
            let asks = ["Timestamp::now", "Zoned::now", "SystemTime::now"].iter().any(|a| text.contains(a));
            assert_eq!(asks, *name == "store" && module == "clock", "{name}: {module}");
        }
    }
}

/// Views are given answers; they work none out. What they may call is wording and what is said of a formula.
#[test]
fn views_call_no_engine() {
    const WORDING: [&str; 9] = [
        "shown",
        "water_sentence",
        "colour_card",
        "colour_word",
        "cost",
        "offers",
        "figures",
        "counted_flour",
        "household",
    ];
    let web = crates().join("web/src");
    let mut folders: Vec<PathBuf> = ["view", "picture", "show"].iter().map(|f| web.join(f)).collect();
    let mut files = Vec::new();
    while let Some(folder) = folders.pop() {
        files.extend(std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path()));
    }
    for station in ["mix", "rise", "shape", "oven", "day", "formula_page"] {
        files.push(web.join(station).join("answer.rs"));
    }
    let mut wrong = Vec::new();
    for file in files {
        let text = std::fs::read_to_string(&file).unwrap();
        let text = text.split("#[cfg(test)]\nmod tests").next().unwrap();
        for used in text.split("use cerealis_core::").skip(1) {
            let names = used.split(';').next().unwrap().rsplit("::").next().unwrap();
            let calls = names
                .split([',', '{', '}'])
                .map(str::trim)
                .filter(|n| n.starts_with(|c: char| c.is_ascii_lowercase()) && !WORDING.contains(n));
            wrong.extend(calls.map(|name| format!("{} calls {name}", file.display())));
        }
        if text.contains(".answer(&") {
            wrong.push(format!("{} asks a dough how it stands", file.display()));
        }
    }
    assert_eq!(wrong, Vec::<String>::new());
}

/// A crate whose tests are one program names each of their files there: what is not named would not run.
#[test]
fn every_file_of_tests_is_run() {
    let mut counted = 0;
    for all in ["core", "reader", "store", "web"].map(|name| crates().join(name).join("tests/all.rs")) {
        let named = std::fs::read_to_string(&all).unwrap();
        for file in std::fs::read_dir(all.parent().unwrap()).unwrap().map(|e| e.unwrap().path()) {
            let name = file.file_stem().unwrap().to_str().unwrap().to_owned();
            if file.extension().is_some_and(|e| e == "rs") && name != "all" {
                assert!(named.lines().any(|l| l == format!("mod {name};")), "{name} in {}", all.display());
                counted += 1;
            }
        }
    }
    assert!(counted > 30, "{counted}");
}
