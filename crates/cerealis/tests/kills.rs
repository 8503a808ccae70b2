//! Killed at any moment over writes of every kind, nothing that was confirmed is lost. A short run belongs to the tests;
//! `scripts/kills` makes a thousand of them.

mod running;

use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Barrier};
use std::time::Duration;

use running::phone::{LAPTOP, Phone, free_port, link_in};
use running::{cerealis, fields, running};

/// One request; nothing where the program was killed before it was answered.
fn ask(port: u16, method: &str, path: &str, body: &str) -> Option<String> {
    let host = format!("127.0.0.1:{port}");
    let mut stream = TcpStream::connect(&host).ok()?;
    let request = format!(
        "{method} {path} HTTP/1.1\r\nHost: {host}\r\nOrigin: http://{host}\r\nConnection: close\r\n\
         Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\n\r\n{body}",
        body.len()
    );
    stream.write_all(request.as_bytes()).ok()?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer).ok()?;
    answer.starts_with("HTTP/1.1").then_some(answer)
}

/// Where an answer leads, if it says that something was done.
fn leads_to(answer: &str) -> Option<&str> {
    let head = answer.starts_with("HTTP/1.1 303").then_some(answer)?;
    head.lines().find_map(|l| l.strip_prefix("location: "))
}

/// Something that was confirmed: on which page it stands, as which words. Of what is one document the save after it may
/// have been kept too, and not have been answered any more.
struct Confirmed {
    page: String,
    says: String,
    or: Option<String>,
}

/// What writes are made at: the program's own door, and the household's.
#[derive(Clone)]
struct Doors {
    here: u16,
    phone: Phone,
}

/// A page's form sent back with some of its fields otherwise.
fn resent(port: u16, path: &str, changes: &[(&str, &str)]) -> Option<String> {
    let mut all = fields(&ask(port, "GET", path, "")?);
    all.retain(|(name, _)| name != "op" && !changes.iter().any(|(n, _)| n == name));
    all.extend(changes.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())));
    let body = form_urlencoded::Serializer::new(String::new()).extend_pairs(&all).finish();
    ask(port, "POST", path, &body)
}

/// One write of a kind under a name: the page on which it stands once it is confirmed.
fn write(kind: usize, name: &str, doors: &Doors, bake: Option<&str>) -> Option<String> {
    let port = doors.here;
    let created = || {
        let answer = ask(port, "POST", "/formulas", &format!("name={name}&style=tin"))?;
        let id: String = leads_to(&answer)?.chars().filter(char::is_ascii_digit).collect();
        Some(id)
    };
    match kind {
        0 => created().map(|_| "/formulas?sort=changed".into()),
        1 => {
            let gone = ask(port, "POST", &format!("/formulas/{}/delete", created()?), "")?;
            leads_to(&gone).map(|_| "/bin".into())
        }
        2 => {
            let away = ask(port, "POST", &format!("/formulas/{}/archive", created()?), "away=1")?;
            leads_to(&away).map(|_| "/formulas?away=1&sort=changed".into())
        }
        // Presses at a bake.
        3 => {
            let at = bake?;
            let noted = ask(port, "POST", at, &format!("op=note&text=noted+{name}"))?;
            leads_to(&noted).map(|_| at.to_owned())
        }
        4 => {
            let page = ask(port, "GET", "/cupboard/own/new", "")?;
            let revision = page.split("name=\"revision\" value=\"").nth(1)?.split('"').next()?;
            let body =
                format!("name={name}&like=bread-flour&revision={revision}&typed_in=celsius.grams.cm.24");
            let kept = ask(port, "POST", "/cupboard/own", &body)?;
            leads_to(&kept).map(|_| "/cupboard".into())
        }
        // Readings of a dough that was taken up.
        5 => {
            let at = bake?;
            let read = ask(port, "POST", at, "op=read&dough=27.5&typed_in=celsius.grams.cm.24")?;
            leads_to(&read).map(|_| at.to_owned())
        }
        // The kitchen, which is one document: its last save is what stands in it.
        6 => leads_to(&resent(port, "/kitchen", &[("oven_name", name), ("pressed", "1")])?)
            .map(|_| "/kitchen".into()),
        // So is the plan of days.
        7 => {
            let row =
                [("exceptions.0.name", name), ("exceptions.0.from", "10:00"), ("exceptions.0.to", "11:00")];
            let more = [("exceptions.0.who", "away"), ("op", "plan")];
            let changes: Vec<_> = row.into_iter().chain(more).collect();
            leads_to(&resent(port, "/day", &changes)?).map(|_| "/day".into())
        }
        // A device that is let in.
        8 => {
            let link = link_in(&ask(port, "POST", "/sharing", "op=link:helper")?)?;
            let phone = &doors.phone;
            let paired =
                phone.try_send(phone.try_connect().ok()?, "POST", &link, &format!("name={name}")).ok()?;
            (paired.status == 303).then(|| "/sharing".into())
        }
        _ => unreachable!("there are {KINDS} kinds"),
    }
}

/// What a kind of write is made at that wants a bake first: its address.
fn at_bench(kind: usize, round: usize, port: u16) -> Option<String> {
    if ![3, 5].contains(&kind) {
        return None;
    }
    let made = ask(port, "POST", "/formulas", &format!("name=B{kind}x{round}x&style=tin"))?;
    let id: String = leads_to(&made)?.chars().filter(char::is_ascii_digit).collect();
    let begun = match kind {
        3 => ask(port, "POST", "/bakes", &format!("formula={id}"))?,
        _ => ask(port, "POST", &format!("/formulas/{id}/dough"), "op=begin&measured=26")?,
    };
    leads_to(&begun).map(str::to_owned)
}

/// Writes of one kind, one after the other, until the program is gone; what of them was confirmed.
fn writes(kind: usize, round: usize, doors: &Doors, ready: &Barrier, over: &AtomicBool) -> Vec<Confirmed> {
    let mut all: Vec<Confirmed> = Vec::new();
    let bake = at_bench(kind, round, doors.here);
    ready.wait();
    for n in 0.. {
        if over.load(Ordering::Relaxed) {
            break;
        }
        let named = |n: usize| format!("K{kind}x{round}x{n}x");
        let Some(page) = write(kind, &named(n), doors, bake.as_deref()) else { break };
        let one_document = ONE_DOCUMENT.contains(&kind);
        if one_document {
            all.clear();
        }
        let says = match kind {
            3 => format!("noted {}", named(n)),
            5 => "dough 28".into(),
            _ => named(n),
        };
        all.push(Confirmed { page, says, or: one_document.then(|| named(n + 1)) });
    }
    all
}

const KINDS: usize = 9;
/// Kinds of which only the last save stands.
const ONE_DOCUMENT: [usize; 2] = [6, 7];

/// The pages of what is kept, whole: a long list has several.
fn whole(port: u16, page: &str) -> String {
    let mut text = String::new();
    let join = if page.contains('?') { '&' } else { '?' };
    for number in 1..=400 {
        let part = ask(port, "GET", &format!("{page}{join}page={number}"), "").unwrap_or_default();
        let more = part.contains(">Next<");
        text.push_str(&part);
        if !more || !page.starts_with("/formulas") {
            break;
        }
    }
    text
}

/// How many writes of each kind were confirmed, and which of them are lost.
fn killed_over_writes(data: &Path, rounds: usize) -> ([usize; KINDS], Vec<String>) {
    let (mut confirmed, mut lost) = ([0; KINDS], Vec::new());
    let file = data.to_str().unwrap();
    assert!(cerealis(&["passphrase", "--data", file], "crumb river ladder nine\n").status.success());
    let door = free_port();
    let share = door.to_string();
    let serve = ["serve", "--data", file, "--share", "--listen", LAPTOP, "--share-port", &share];
    for round in 0..rounds {
        let mut program = running(&serve);
        while std::net::TcpStream::connect((LAPTOP, door)).is_err() {
            std::thread::sleep(Duration::from_millis(5));
        }
        let phone = Phone::new(9, door, &data.with_file_name("kitchen-sharing"));
        let doors = Doors { here: program.port, phone };
        let (over, ready) = (Arc::new(AtomicBool::new(false)), Arc::new(Barrier::new(KINDS + 1)));
        let writers: Vec<_> = (0..KINDS)
            .map(|kind| {
                let (over, ready, doors) = (over.clone(), ready.clone(), doors.clone());
                std::thread::spawn(move || writes(kind, round, &doors, &ready, &over))
            })
            .collect();
        ready.wait();
        // Another moment each time, spread over what a handful of writes take.
        std::thread::sleep(Duration::from_millis(20 + (round as u64 * 97) % 900));
        let _ = program.child.kill();
        over.store(true, Ordering::Relaxed);
        let by_kind: Vec<Vec<Confirmed>> = writers.into_iter().map(|w| w.join().unwrap()).collect();
        by_kind.iter().enumerate().for_each(|(kind, all)| confirmed[kind] += all.len());
        let all: Vec<Confirmed> = by_kind.into_iter().flatten().collect();
        drop(program);
        let again = running(&serve);
        let mut pages: Vec<(&str, String)> = Vec::new();
        for c in &all {
            if !pages.iter().any(|(page, _)| *page == c.page) {
                pages.push((&c.page, whole(again.port, &c.page)));
            }
            let (_, text) = pages.iter().find(|(page, _)| *page == c.page).unwrap();
            if !text.contains(&c.says) && !c.or.as_ref().is_some_and(|or| text.contains(or)) {
                lost.push(format!("{} on {}", c.says, c.page));
            }
        }
    }
    (confirmed, lost)
}

#[test]
fn nothing_that_was_confirmed_is_lost() {
    let rounds = std::env::var("CEREALIS_KILLS").ok().and_then(|n| n.parse().ok()).unwrap_or(12);
    let (mut confirmed, mut lost) = ([0; KINDS], Vec::new());
    // A kitchen of fifty rounds: a list of thousands is another matter.
    for begun in (0..rounds).step_by(50) {
        let dir = tempfile::tempdir().unwrap();
        let (more, gone) = killed_over_writes(&dir.path().join("kitchen.sqlite"), 50.min(rounds - begun));
        (0..KINDS).for_each(|kind| confirmed[kind] += more[kind]);
        lost.extend(gone);
    }
    println!("{rounds} kills, {confirmed:?} writes of each kind confirmed, {} lost", lost.len());
    assert!(confirmed.iter().all(|n| *n > 0) && lost.is_empty(), "{confirmed:?} confirmed; lost: {lost:?}");
}
