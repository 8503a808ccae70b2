//! Other programs at the kitchen's file while it is served: one that opens, reads and closes it, one that copies it, one that
//! puts a copy in its place, one that deletes it or its log, and a restore. Then a kill, or Ctrl+C. What was confirmed is in
//! the file. A short run belongs to the tests; `scripts/meddling` makes a thousand.

mod running;

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::Duration;

use cerealis_store::Store;
use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use running::{Running, cerealis, running};

/// What another program does.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Meddles {
    /// Opens the file by SQLite, reads and closes it.
    Reads,
    /// Copies the file as it lies there.
    Copies,
    /// Copies it, and puts the copy in its place a little later.
    Replaces,
    /// Deletes it.
    Deletes,
    /// Deletes the log beside it.
    DeletesLog,
    /// Makes a backup by the command line.
    BacksUp,
    /// Makes a backup on the page, which is restored later in the round.
    Restores,
}

const ALL: [Meddles; 7] = [
    Meddles::Reads,
    Meddles::Copies,
    Meddles::Replaces,
    Meddles::Deletes,
    Meddles::DeletesLog,
    Meddles::BacksUp,
    Meddles::Restores,
];

fn beside(path: &Path, end: &str) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push(end);
    name.into()
}

/// The name of the newest backup on the page.
fn newest_backup(program: &Running) -> String {
    let page = program.ask("GET", "/backups", "");
    let after = page.split("restore:").nth(1).expect("a backup is listed");
    after.split('"').next().unwrap().to_owned()
}

struct Round<'a> {
    program: &'a Running,
    data: &'a Path,
    confirmed: BTreeSet<String>,
    named: usize,
}

impl Round<'_> {
    /// Saves a formula; it counts if the answer says so.
    fn save(&mut self, round: usize) {
        let name = format!("Loaf {round} {}", self.named);
        self.named += 1;
        let answer =
            self.program.ask("POST", "/formulas", &format!("name={}&style=tin", name.replace(' ', "+")));
        if answer.starts_with("HTTP/1.1 303") {
            self.confirmed.insert(name);
        } else {
            assert!(answer.starts_with("HTTP/1.1 503"), "it is refused for now, or saved: {answer}");
        }
    }

    fn meddle(&mut self, how: Meddles, n: usize) {
        let data = self.data;
        match how {
            Meddles::Reads => {
                let mut c = SqliteConnection::establish(data.to_str().unwrap()).unwrap();
                c.batch_execute("SELECT count(*) FROM formulas;").unwrap();
            }
            Meddles::Copies => {
                std::fs::copy(data, beside(data, ".copied")).unwrap();
            }
            Meddles::Replaces => {
                let copy = beside(data, ".synced");
                std::fs::copy(data, &copy).unwrap();
                self.save(n);
                std::fs::rename(copy, data).unwrap();
            }
            Meddles::Deletes => {
                std::fs::remove_file(data).unwrap();
                self.save(n);
            }
            Meddles::DeletesLog => {
                std::fs::remove_file(beside(data, "-wal")).unwrap();
                self.save(n);
            }
            Meddles::BacksUp => {
                let into = beside(data, ".backup.gz");
                let made =
                    cerealis(&["backup", into.to_str().unwrap(), "--data", data.to_str().unwrap()], "");
                assert!(made.status.success(), "{made:?}");
            }
            Meddles::Restores => {
                let made = self.program.ask("POST", "/backups", "op=now");
                assert!(made.starts_with("HTTP/1.1 200"), "{made}");
                let then = self.confirmed.clone();
                let name = newest_backup(self.program);
                self.save(n);
                let done = self.program.ask("POST", "/backups", &format!("op=restore:{name}"));
                assert!(done.contains("Restored."), "{done}");
                // What was saved after the backup was taken back by the restore.
                self.confirmed = then;
            }
        }
    }
}

/// The names of all formulas in a file.
fn names(data: &Path) -> BTreeSet<String> {
    let store = Store::open(data).unwrap();
    store.formulas().unwrap().into_iter().map(|f| f.formula.name).collect()
}

fn meddled(data: &Path, from: usize, rounds: usize) -> (usize, Vec<String>) {
    let file = data.to_str().unwrap();
    let (mut before, mut lost, mut count) = (BTreeSet::new(), Vec::new(), 0);
    for n in from..from + rounds {
        let mut program = running(&["serve", "--data", file]);
        let mut round = Round { program: &program, data, confirmed: before, named: 0 };
        round.save(n);
        // Another three of them each round, in another order.
        let mut done = Vec::new();
        for step in 0..3 {
            let how = ALL[(n * 5 + step * (1 + n / 7 % 6)) % ALL.len()];
            round.meddle(how, n);
            done.push(how);
            if (n + step) % 3 != 0 {
                round.save(n);
            }
        }
        let confirmed = round.confirmed;
        count += confirmed.iter().filter(|name| name.starts_with(&format!("Loaf {n} "))).count();
        if n % 2 == 0 {
            program.child.kill().unwrap();
        } else {
            let interrupted = Command::new("kill").args(["-INT", &program.child.id().to_string()]).status();
            assert!(interrupted.unwrap().success());
        }
        program.child.wait().unwrap();
        let there = names(data);
        lost.extend(confirmed.difference(&there).map(|name| format!("{name}, after {done:?}")));
        before = confirmed;
        for entry in std::fs::read_dir(data.parent().unwrap()).unwrap() {
            let path = entry.unwrap().path();
            if path.to_string_lossy().contains(".other-") {
                std::fs::remove_file(path).unwrap();
            }
        }
    }
    (count, lost)
}

#[test]
fn what_is_confirmed_is_in_the_file_whatever_others_do_to_it() {
    let rounds = std::env::var("CEREALIS_MEDDLES").ok().and_then(|n| n.parse().ok()).unwrap_or(14);
    let (mut count, mut lost) = (0, Vec::new());
    for begun in (0..rounds).step_by(25) {
        let dir = tempfile::tempdir().unwrap();
        let (more, gone) = meddled(&dir.path().join("kitchen.sqlite"), begun, 25.min(rounds - begun));
        count += more;
        lost.extend(gone);
    }
    println!("{rounds} rounds, {count} confirmed, {} lost", lost.len());
    assert!(count > 2 * rounds && lost.is_empty(), "{count} confirmed; lost: {lost:?}");
}

/// What the watch finds is said on every page, by /healthz, and goes when it was read.
#[test]
fn what_is_found_is_told_on_every_page() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let program = running(&["serve", "--data", data.to_str().unwrap()]);
    assert!(program.ask("POST", "/formulas", "name=Loaf&style=tin").starts_with("HTTP/1.1 303"));
    let well = program.ask("GET", "/healthz", "");
    assert!(well.contains(r#""findings":[]"#), "{well}");
    std::fs::remove_file(&data).unwrap();
    std::thread::sleep(Duration::from_millis(2500));
    assert!(data.exists(), "it is put back without anybody saving");
    for page in ["/formulas", "/kitchen", "/day", "/bakes", "/backups"] {
        let page = program.ask("GET", page, "");
        assert!(
            page.contains("data-finding=\"name-lost\"") && page.contains("is back in its place"),
            "{page}"
        );
    }
    let health = program.ask("GET", "/healthz", "");
    assert!(health.contains("name-lost") && health.starts_with("HTTP/1.1 200"), "{health}");
    assert!(program.ask("POST", "/watch", "read=name-lost").starts_with("HTTP/1.1 303"));
    assert!(!program.ask("GET", "/formulas", "").contains("data-finding="));
    // Again and again: it gives up, says so, keeps all in a file, and confirms nothing more.
    for _ in 0..3 {
        std::fs::remove_file(&data).unwrap();
        program.ask("POST", "/formulas", "name=Loaf&style=tin");
    }
    let refused = program.ask("POST", "/formulas", "name=Lost&style=tin");
    assert!(
        refused.starts_with("HTTP/1.1 503") && refused.contains("Nothing more can be saved"),
        "{refused}"
    );
    let health = program.ask("GET", "/healthz", "");
    assert!(health.starts_with("HTTP/1.1 503") && health.contains(r#""stops_saving":true"#), "{health}");
    let saved = std::fs::read_dir(dir.path()).unwrap().map(|e| e.unwrap().path());
    let saved =
        saved.into_iter().find(|p| p.to_string_lossy().contains(".saved-")).expect("a file with all of it");
    assert!(names(&saved).contains("Loaf"));
    // What is in memory can be had through the page too.
    assert!(program.ask_bytes("GET", "/backups/now").windows(2).any(|w| w == [0x1f, 0x8b]));
}

/// A file that is set to be read only takes nothing more until writing is allowed again.
#[test]
fn a_file_set_to_read_only_is_told() {
    use std::os::unix::fs::PermissionsExt;
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let program = running(&["serve", "--data", data.to_str().unwrap()]);
    assert!(program.ask("POST", "/formulas", "name=Loaf&style=tin").starts_with("HTTP/1.1 303"));
    let mode = |m: u32| std::fs::set_permissions(&data, std::fs::Permissions::from_mode(m)).unwrap();
    mode(0o400);
    let health = program.ask("GET", "/healthz", "");
    assert!(health.starts_with("HTTP/1.1 503") && health.contains("read-only"), "{health}");
    let refused = program.ask("POST", "/formulas", "name=Lost&style=tin");
    assert!(refused.starts_with("HTTP/1.1 503"), "{refused}");
    assert!(program.ask("GET", "/formulas", "").contains("data-finding=\"read-only\""));
    mode(0o600);
    std::thread::sleep(Duration::from_millis(1500));
    assert!(program.ask("POST", "/formulas", "name=Loaf+2&style=tin").starts_with("HTTP/1.1 303"));
    assert!(!program.ask("GET", "/formulas", "").contains("data-finding="));
}

/// On a disk that is full nothing is lost that was confirmed, and what does not fit is refused. The disk is one of 4 MB in
/// memory, in a room of the test's own where it may not mount one otherwise.
#[test]
fn a_full_disk_is_told_and_loses_nothing() {
    let dir = tempfile::tempdir().unwrap();
    let disk = dir.path().join("disk");
    std::fs::create_dir(&disk).unwrap();
    let script = format!(
        "mount -t tmpfs -o size=4m none {0} && exec {1} serve --data {0}/kitchen.sqlite --backups {2} --port 0",
        disk.display(),
        env!("CARGO_BIN_EXE_cerealis"),
        dir.path().join("backups").display()
    );
    let program = running::started(Command::new("unshare").args([
        "--user",
        "--map-root-user",
        "--mount",
        "sh",
        "-c",
        &script,
    ]));
    let mut confirmed = 0;
    let mut refused = None;
    for n in 0..4000 {
        let answer = program.ask("POST", "/formulas", &format!("name=Loaf+{n}&style=tin"));
        if answer.starts_with("HTTP/1.1 303") {
            confirmed += 1;
        } else {
            refused = Some(answer);
            break;
        }
    }
    let refused = refused.expect("4 MB are full some time");
    assert!(
        confirmed > 20 && refused.starts_with("HTTP/1.1 507") && refused.contains("disk is full"),
        "{refused}"
    );
    let page = program.ask("GET", "/kitchen", "");
    assert!(page.contains("data-finding=\"disk-full\""), "{page}");
    assert!(program.ask("GET", "/healthz", "").starts_with("HTTP/1.1 503"));
    let list = program.ask("GET", "/export", "");
    assert_eq!(list.matches("\"Loaf ").count(), confirmed, "what was confirmed is there, and no more");
}

/// Nobody else on the machine reads a kitchen, its backups, or what lies beside it: the passphrase's hash is in it.
#[test]
fn files_are_their_owners_alone() {
    use std::os::unix::fs::PermissionsExt;
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("bread/kitchen.sqlite");
    std::fs::create_dir(dir.path().join("bread")).unwrap();
    // One from before, open to all.
    drop(Store::open(&data).unwrap());
    std::fs::set_permissions(&data, std::fs::Permissions::from_mode(0o644)).unwrap();
    let program = running(&["serve", "--data", data.to_str().unwrap()]);
    program.ask("POST", "/formulas", "name=Loaf&style=tin");
    assert!(program.ask("POST", "/backups", "op=now").starts_with("HTTP/1.1 200"));
    let elsewhere = dir.path().join("elsewhere.gz");
    cerealis(&["backup", elsewhere.to_str().unwrap(), "--data", data.to_str().unwrap()], "");
    let mut seen = 0;
    let mut folders = vec![dir.path().join("bread"), dir.path().to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(&folder).unwrap() {
            let path = entry.unwrap().path();
            let mode = path.metadata().unwrap().permissions().mode() & 0o777;
            if path.is_dir() {
                if path.ends_with("kitchen-backups") {
                    assert_eq!(mode, 0o700, "{}", path.display());
                }
                folders.push(path);
            } else {
                assert_eq!(mode & 0o077, 0, "{} is {mode:o}", path.display());
                seen += 1;
            }
        }
    }
    assert!(seen >= 5, "{seen} files");
}
