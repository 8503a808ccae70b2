//! Every figure of every form, on the running program, with what no figure may be: an answer comes each time, nothing panics,
//! and the program goes on. A part of them belongs to the tests; `scripts/forms` sends all.

mod running;

use std::time::Duration;

use running::{Running, fields, running};

/// What is typed in the place of a figure.
const TYPED: [&str; 8] = ["-5", "0", "NaN", "1e308", "", "flour", "-1e308", "0.000001"];

fn body(all: &[(String, String)]) -> String {
    form_urlencoded::Serializer::new(String::new()).extend_pairs(all).finish()
}

fn is_figure(value: &str) -> bool {
    !value.is_empty() && value.trim().replace(',', ".").parse::<f64>().is_ok()
}

/// Fields that are no figure of a baker's: what the page knows of itself.
fn is_own(name: &str) -> bool {
    name == "revision" || name.starts_with("was.") || name.starts_with("exact.") || name == "kept"
}

/// Sends a page's form to an address with each of its figures otherwise; how many were sent.
fn send_all(program: &Running, page: &str, to: &str, more: &[(&str, &str)], every: usize) -> usize {
    let html = program.ask("GET", page, "");
    assert!(html.starts_with("HTTP/1.1 200"), "{page}: {}", &html[..html.len().min(200)]);
    let mut all: Vec<(String, String)> = fields(&html).into_iter().filter(|(n, _)| n != "op").collect();
    all.extend(more.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())));
    let figures: Vec<usize> =
        (0..all.len()).filter(|n| is_figure(&all[*n].1) && !is_own(&all[*n].0)).collect();
    let mut sent = 0;
    for (turn, (n, typed)) in figures.iter().flat_map(|n| TYPED.map(|t| (*n, t))).enumerate() {
        if turn % every != 0 {
            continue;
        }
        let mut changed = all.clone();
        changed[n].1 = typed.to_owned();
        let answer = program.ask("POST", to, &body(&changed));
        let status: u16 = answer.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
        assert!(
            (200..500).contains(&status),
            "{to}: {} = {typed:?}: {}",
            changed[n].0,
            answer.lines().next().unwrap_or("no answer")
        );
        sent += 1;
    }
    sent
}

#[test]
fn no_figure_of_any_form_stops_the_program() {
    let every = if std::env::var_os("CEREALIS_FORMS").is_some() { 1 } else { 23 };
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let program = running(&["demo", "--data", data.to_str().unwrap()]);
    let mut sent = 0;
    // Each of the demo's breads has stations of its own.
    for id in 1..=7 {
        let page = format!("/formulas/{id}/formula");
        sent += send_all(&program, &page, &format!("/formulas/{id}/preview"), &[("here", "shape")], every);
        // Without a script the whole page is drawn.
        sent += send_all(&program, &page, &format!("/formulas/{id}"), &[("op", "look")], every * 9);
    }
    sent += send_all(&program, "/kitchen", "/kitchen/draw", &[], every.min(3));
    sent += send_all(&program, "/kitchen", "/kitchen", &[("pressed", "1")], every.min(3));
    sent += send_all(&program, "/day", "/day", &[("op", "look")], every.min(3));
    let own = ["water", "protein", "fat", "carbohydrate", "sugars", "fibre", "ash", "salt", "price"]
        .map(|n| (n, "5"));
    sent += send_all(&program, "/cupboard/own/new", "/cupboard/own", &own, every.min(3));
    sent += send_all(&program, "/cupboard", "/cupboard/prices", &[], every.min(5));
    sent += send_all(&program, "/formulas/1/dough", "/formulas/1/dough", &[("op", "begin")], 1);
    let bakes = program.ask("GET", "/bakes", "");
    let bake =
        bakes.split("href=\"/bakes/").nth(1).and_then(|r| r.split('"').next()).expect("a bake goes on");
    for op in ["read", "late", "weigh:0", "note", "longer"] {
        for field in ["dough", "volume", "place", "core", "grams", "by", "baked", "minutes"] {
            for typed in TYPED {
                let more =
                    format!("op={op}&{field}={}&typed_in=celsius.grams.cm.24", typed.replace('+', "%2B"));
                let answer = program.ask("POST", &format!("/bakes/{bake}"), &more);
                assert!(
                    !answer.starts_with("HTTP/1.1 5") && !answer.is_empty(),
                    "{op} {field} {typed}: {answer}"
                );
                sent += 1;
            }
        }
    }
    // All workers go on.
    for _ in 0..8 {
        assert!(program.ask("GET", "/formulas", "").starts_with("HTTP/1.1 200"));
    }
    std::thread::sleep(Duration::from_millis(50));
    println!("{sent} forms");
}

/// What is sent drop by drop is given up in time, whatever it is, and its connection with it.
#[test]
fn what_drips_is_given_up() {
    use std::io::{Read, Write};
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let program = running(&["demo", "--data", data.to_str().unwrap()]);
    let host = format!("127.0.0.1:{}", program.port);
    let drips: Vec<_> = ["/backups/bring", "/bakes/1/photos", "/formulas", "/kitchen/zone", "/formulas/bring"]
        .into_iter()
        .map(|path| {
            let host = host.clone();
            std::thread::spawn(move || {
                let mut stream = std::net::TcpStream::connect(&host).unwrap();
                stream.set_read_timeout(Some(Duration::from_millis(500))).unwrap();
                let head = format!(
                    "POST {path} HTTP/1.1\r\nHost: {host}\r\nOrigin: http://{host}\r\nContent-Type: application/json\r\nContent-Length: 4000\r\n\r\n"
                );
                stream.write_all(head.as_bytes()).unwrap();
                let began = std::time::Instant::now();
                let mut answer = Vec::new();
                while began.elapsed() < Duration::from_secs(40) {
                    if stream.write_all(b"x").is_err() {
                        break;
                    }
                    let mut buffer = [0; 4096];
                    match stream.read(&mut buffer) {
                        Ok(0) => break,
                        Ok(n) => answer.extend(&buffer[..n]),
                        Err(e) if matches!(e.kind(), std::io::ErrorKind::WouldBlock | std::io::ErrorKind::TimedOut) => {}
                        Err(_) => break,
                    }
                    if !answer.is_empty() {
                        break;
                    }
                }
                (path, began.elapsed(), String::from_utf8_lossy(&answer).into_owned())
            })
        })
        .collect();
    for drip in drips {
        let (path, took, answer) = drip.join().unwrap();
        assert!(took < Duration::from_secs(25), "{path} goes on after {took:?}");
        assert!(!answer.starts_with("HTTP/1.1 2") && !answer.starts_with("HTTP/1.1 5"), "{path}: {answer}");
    }
}

/// A backup of any size is received; what is none is told so, and not that it is too large.
#[test]
fn a_large_backup_is_looked_at() {
    use std::io::{Read, Write};
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let program = running(&["serve", "--data", data.to_str().unwrap()]);
    let host = format!("127.0.0.1:{}", program.port);
    let mut stream = std::net::TcpStream::connect(&host).unwrap();
    let bytes = 80 << 20;
    let head = format!(
        "POST /backups/bring HTTP/1.1\r\nHost: {host}\r\nOrigin: http://{host}\r\nConnection: close\r\nContent-Length: {bytes}\r\n\r\n"
    );
    stream.write_all(head.as_bytes()).unwrap();
    let part = vec![7u8; 1 << 20];
    for _ in 0..80 {
        stream.write_all(&part).unwrap();
    }
    let mut answer = String::new();
    stream.read_to_string(&mut answer).unwrap();
    assert!(answer.starts_with("HTTP/1.1 422") && answer.contains("no backup of Cerealis"), "{answer:.300}");
    let left = std::fs::read_dir(dir.path().join("kitchen-backups")).unwrap().count();
    assert_eq!(left, 0, "nothing of it stays");
}
