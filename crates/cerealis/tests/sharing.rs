//! The household's door, attacked: every device is a loopback address of this machine, and everything that is sent goes
//! to another one of them.

mod running;

use std::collections::BTreeSet;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::PathBuf;
use std::sync::{Arc, Mutex};
use std::time::Duration;

use cerealis_web::routes::{Registered, Who};
use running::phone::{LAPTOP, Phone, free_port, link_in};
use running::{Running, cerealis, running};
use tempfile::TempDir;

const PASSPHRASE: &str = "crumb river ladder nine";
/// A shared kitchen.
struct House {
    _dir: TempDir,
    here: Running,
    port: u16,
    folder: PathBuf,
}

impl House {
    fn open() -> House {
        let dir = tempfile::tempdir().unwrap();
        let data = dir.path().join("kitchen.sqlite");
        let data = data.to_str().unwrap();
        let out = cerealis(&["passphrase", "--data", data], &format!("{PASSPHRASE}\n"));
        assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
        let port = free_port();
        let share = ["--share", "--listen", LAPTOP, "--share-port", &port.to_string()].map(str::to_owned);
        let mut command = vec!["demo", "--data", data, "--keep"];
        command.extend(share.iter().map(String::as_str));
        let here = running(&command);
        let folder = dir.path().join("kitchen-sharing");
        let house = House { _dir: dir, here, port, folder };
        for _ in 0..200 {
            if TcpStream::connect((LAPTOP, port)).is_ok() {
                return house;
            }
            std::thread::sleep(Duration::from_millis(25));
        }
        panic!("the door does not open");
    }

    /// Asks from the laptop itself.
    fn here(&self, method: &str, path: &str, body: &str) -> String {
        self.here.ask(method, path, body)
    }

    fn phone(&self, n: u8) -> Phone {
        Phone::new(n, self.port, &self.folder)
    }

    /// A link that lets one device in.
    fn link(&self, role: &str) -> String {
        let page = self.here("POST", "/sharing", &format!("op=link:{role}"));
        link_in(&page).unwrap_or_else(|| panic!("no link in {page}"))
    }

    /// A phone that was let in.
    fn let_in(&self, n: u8, role: &str) -> Phone {
        let mut phone = self.phone(n);
        let reply = phone.ask("POST", &self.link(role), "name=Phone");
        assert_eq!(reply.status, 303, "{}", reply.text);
        phone
    }
}

#[test]
fn without_a_passphrase_nothing_listens() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let port = free_port();
    let share = port.to_string();
    let here = running(&[
        "demo",
        "--data",
        data.to_str().unwrap(),
        "--share",
        "--listen",
        LAPTOP,
        "--share-port",
        &share,
    ]);
    assert!(here.ask("GET", "/sharing", "").contains("It is on once there is a passphrase"));
    assert!(TcpStream::connect((LAPTOP, port)).is_err());
    let weak = here.ask("POST", "/sharing", "op=passphrase&passphrase=password12");
    assert!(weak.starts_with("HTTP/1.1 422") && weak.contains("first that would be guessed"), "{weak:.300}");
    let set = here.ask("POST", "/sharing", "op=passphrase&passphrase=crumb+river+ladder+nine");
    assert!(set.contains(&format!("https://{LAPTOP}:{port}")), "the page says where it is");
    assert!(TcpStream::connect((LAPTOP, port)).is_ok());
}

#[test]
fn the_switch_opens_and_shuts_the_door() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let port = free_port();
    let share = port.to_string();
    let here =
        running(&["demo", "--data", data.to_str().unwrap(), "--listen", LAPTOP, "--share-port", &share]);
    here.ask("POST", "/sharing", "op=passphrase&passphrase=crumb+river+ladder+nine");
    assert!(TcpStream::connect((LAPTOP, port)).is_err(), "off by default");
    here.ask("POST", "/sharing", "op=on");
    assert!(TcpStream::connect((LAPTOP, port)).is_ok());
    here.ask("POST", "/sharing", "op=off");
    assert!(TcpStream::connect((LAPTOP, port)).is_err());
}

#[test]
fn who_knows_the_passphrase_comes_in_and_goes_out_again() {
    let house = House::open();
    let mut phone = house.phone(1);
    let shown = phone.get("/kitchen");
    assert_eq!((shown.status, shown.header("location")), (303, Some("/sign-in?to=%2Fkitchen")));
    assert_eq!(phone.ask("POST", "/formulas", "name=Mine&style=tin").status, 401);
    assert!(!phone.get("/sign-in").text.contains("Weirside"));
    assert_eq!(phone.sign_in("crumb river ladder ten").status, 401);
    assert!(phone.cookie.is_none());
    // A cookie that somebody gave it beforehand is not what it is signed in by.
    phone.cookie = Some("__Host-cerealis=planted".into());
    let came = phone.sign_in(PASSPHRASE);
    assert_eq!((came.status, came.header("location")), (303, Some("/kitchen")));
    let set = came.header("set-cookie").unwrap();
    for says in ["__Host-cerealis=", "HttpOnly", "Secure", "SameSite=Strict", "Path=/", "Max-Age=2592000"] {
        assert!(set.contains(says), "{says} in {set}");
    }
    assert!(!set.contains("planted"));
    assert!(phone.get("/formulas").text.contains("Weirside tin loaf"));
    assert!(house.here("GET", "/sharing", "").contains("Kitchen phone"));
    let stolen = phone.clone();
    let out = phone.ask("POST", "/sign-out", "");
    assert_eq!(out.header("clear-site-data"), Some("\"cache\", \"storage\""));
    assert_eq!(stolen.clone().get("/formulas").status, 303, "what was stolen is worth nothing then");
    assert!(!house.here("GET", "/sharing", "").contains("Kitchen phone"));
}

#[test]
fn a_device_is_removed_and_all_are() {
    let house = House::open();
    let (mut one, mut two) = (house.let_in(1, "baker"), house.let_in(2, "baker"));
    assert_eq!((one.get("/formulas").status, two.get("/formulas").status), (200, 200));
    let page = house.here("GET", "/sharing", "");
    let first = page.split("value=\"remove:").nth(1).and_then(|r| r.split('"').next()).unwrap();
    house.here("POST", "/sharing", &format!("op=remove:{first}"));
    let left = [one.get("/formulas").status, two.get("/formulas").status];
    assert!(left == [200, 303] || left == [303, 200], "{left:?}");
    let mut stays = if left[0] == 200 { one } else { two };
    let mut third = house.let_in(3, "helper");
    // Who signs the others out stays.
    stays.ask("POST", "/sharing", "op=remove-others");
    assert_eq!((stays.get("/formulas").status, third.get("/day").status), (200, 303));
    // Another passphrase signs everybody out.
    house.here("POST", "/sharing", "op=passphrase&passphrase=oven+moth+sparrow+hill");
    assert_eq!(stays.get("/formulas").status, 303);
    assert_eq!(house.phone(4).sign_in(PASSPHRASE).status, 401);
    assert_eq!(house.phone(4).sign_in("oven moth sparrow hill").status, 303);
}

#[test]
fn a_link_lets_in_one_device_once() {
    let house = House::open();
    let link = house.link("helper");
    let mut phone = house.phone(1);
    // Some programs look at a link before its reader does.
    assert_eq!(phone.get(&link).status, 200);
    assert_eq!(phone.get(&link).status, 200);
    assert_eq!(phone.ask("POST", &link, "name=").status, 422);
    assert_eq!(phone.ask("POST", &link, "name=Tablet").status, 303);
    // The demo has bakes at the bench: a helper comes to them, and to nothing that is the baker's.
    let today = phone.get("/");
    assert!(today.status == 200 && today.text.contains("At the bench"));
    assert_eq!(phone.get("/formulas").status, 403);
    let mut late = house.phone(2);
    assert_eq!(late.ask("POST", &link, "name=Neighbour").status, 410, "replayed");
    assert_eq!(late.get(&link).status, 410);
    assert_eq!(late.ask("POST", "/pair/0000000000000000000000000000000000000000", "name=Guess").status, 410);
    assert_eq!(late.get("/day").status, 303);
}

#[test]
fn guessing_is_held_up_for_one_and_not_for_the_others() {
    let house = House::open();
    let mut neighbour = house.phone(66);
    let tried: Vec<u16> =
        (0..9).map(|n| neighbour.sign_in(&format!("guess number {n} of many")).status).collect();
    assert_eq!(&tried[..6], [401; 6]);
    assert_eq!(&tried[6..], [429; 3]);
    let held = neighbour.sign_in(PASSPHRASE);
    assert_eq!(held.status, 429, "not even by the right one then");
    assert!(
        held.header("retry-after").is_some_and(|s| s.parse::<u64>().is_ok_and(|s| (1..=20).contains(&s)))
    );
    assert_eq!(house.phone(1).sign_in(PASSPHRASE).status, 303);
}

#[test]
fn many_at_once_are_answered_and_the_laptop_goes_on() {
    let house = House::open();
    let phones: Vec<Phone> = (1..=30).map(|n| house.phone(n)).collect();
    let tried: Vec<_> = phones
        .into_iter()
        .map(|mut p| std::thread::spawn(move || p.sign_in("not the passphrase at all").status))
        .collect();
    assert!(house.here("GET", "/formulas", "").contains("Weirside"));
    let statuses: BTreeSet<u16> = tried.into_iter().map(|t| t.join().unwrap()).collect();
    assert!(statuses.is_subset(&BTreeSet::from([401, 429])), "{statuses:?}");
    // Pages of a thousand devices that say nothing: they hold nobody up for longer than it takes to let them go.
    let phone = house.phone(1);
    let open: Vec<TcpStream> = (0..1000).map(|_| phone.connect()).collect();
    assert!(house.here("GET", "/formulas", "").contains("Weirside"));
    let mut baker = house.let_in(40, "baker");
    assert_eq!(baker.get("/formulas").status, 200);
    drop(open);
}

/// A name that leads to this machine by somebody else's doing, and a page of somebody else's.
#[test]
fn rebound_names_and_other_pages_are_refused() {
    let house = House::open();
    let mut phone = house.let_in(1, "baker");
    for host in
        ["kitchen.evil.example:8751", "evil.example", "127.0.0.1:8751", &format!("127.0.0.9:{}", house.port)]
    {
        let mut rebound = Phone { host: host.to_owned(), origin: format!("https://{host}"), ..phone.clone() };
        assert_eq!(rebound.get("/formulas").status, 421, "{host}");
        assert_eq!(rebound.ask("POST", "/formulas", "name=X&style=tin").status, 421, "{host}");
    }
    for origin in ["https://evil.example", "null", &format!("http://{}", phone.host), "https://127.0.0.2"] {
        let mut cross = Phone { origin: origin.to_owned(), ..phone.clone() };
        assert_eq!(cross.ask("POST", "/formulas", "name=X&style=tin").status, 403, "{origin}");
        assert_eq!(cross.ask("POST", "/sign-in", "name=X&passphrase=Y").status, 403, "{origin}");
    }
    assert_eq!(phone.ask("POST", "/formulas", "name=Mine&style=tin").status, 303, "and our own are not");
    let shown = phone.get("/formulas");
    assert!(shown.header("content-security-policy").is_some_and(|p| p.contains("frame-ancestors 'none'")));
}

/// The first words of a browser that speaks no later than TLS 1.1.
fn old_hello() -> Vec<u8> {
    let mut hello = vec![3, 2];
    hello.extend([7u8; 32]);
    hello.extend([0, 0, 4, 0x00, 0x2f, 0x00, 0x35, 1, 0]);
    let mut handshake = vec![1, 0, 0, hello.len() as u8];
    handshake.extend(hello);
    let mut record = vec![0x16, 3, 1, 0, handshake.len() as u8];
    record.extend(handshake);
    record
}

#[test]
fn nothing_older_than_tls_1_2_and_nothing_plain_is_spoken() {
    let house = House::open();
    let phone = house.phone(1);
    let mut stream = phone.connect();
    stream.write_all(&old_hello()).unwrap();
    let mut answer = Vec::new();
    let _ = stream.read_to_end(&mut answer);
    // An alert, and that it is fatal; never a hello.
    assert!(answer.is_empty() || answer[0] == 0x15 && answer[5] == 2, "{answer:?}");
    let mut stream = phone.connect();
    stream.write_all(format!("GET /formulas HTTP/1.1\r\nHost: {}\r\n\r\n", phone.host).as_bytes()).unwrap();
    let mut answer = Vec::new();
    let _ = stream.read_to_end(&mut answer);
    assert!(!String::from_utf8_lossy(&answer).contains("HTTP/"), "{answer:?}");
}

/// Notes what passes, as a neighbour on the same wireless does.
struct Overheard {
    stream: TcpStream,
    heard: Arc<Mutex<Vec<u8>>>,
}

impl Read for Overheard {
    fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
        let n = self.stream.read(into)?;
        self.heard.lock().unwrap().extend(&into[..n]);
        Ok(n)
    }
}

impl Write for Overheard {
    fn write(&mut self, from: &[u8]) -> std::io::Result<usize> {
        let n = self.stream.write(from)?;
        self.heard.lock().unwrap().extend(&from[..n]);
        Ok(n)
    }

    fn flush(&mut self) -> std::io::Result<()> {
        self.stream.flush()
    }
}

#[test]
fn a_neighbour_who_listens_reads_nothing() {
    let house = House::open();
    let mut phone = house.phone(1);
    let heard = Arc::new(Mutex::new(Vec::new()));
    let overheard = |phone: &Phone| Overheard { stream: phone.connect(), heard: heard.clone() };
    let body = format!("name=Kitchen+phone&to=/&passphrase={}", PASSPHRASE.replace(' ', "+"));
    let came = phone.send(overheard(&phone), "POST", "/sign-in", &body);
    assert_eq!(came.status, 303);
    phone.cookie = came.header("set-cookie").and_then(|c| c.split(';').next()).map(str::to_owned);
    let list = phone.send(overheard(&phone), "GET", "/formulas", "");
    assert!(list.text.contains("Weirside"));
    let heard = heard.lock().unwrap().clone();
    assert!(heard.len() > 10_000);
    let key = phone.cookie.unwrap();
    for secret in ["crumb", "Kitchen+phone", "passphrase", "Weirside", "/formulas", &key[16..40]] {
        assert!(!heard.windows(secret.len()).any(|w| w == secret.as_bytes()), "{secret} could be read");
    }
}

/// What a helper may: to each address and method what is let through, and everything else is refused. Every route of the
/// program stands here.
const HELPERS: [(&str, &str); 25] = [
    ("GET", "/"),
    ("GET", "/bakes"),
    ("GET", "/bakes/{id}"),
    ("POST", "/bakes/{id}"),
    ("GET", "/bakes/{id}/part"),
    ("POST", "/bakes/{id}/photos"),
    ("GET", "/bakes/{id}/photos/{name}"),
    ("GET", "/bakes/{id}/rise"),
    ("POST", "/bakes/{id}/rise"),
    ("GET", "/instruments"),
    ("POST", "/instruments"),
    ("GET", "/formulas/{id}/sheet"),
    ("GET", "/day"),
    ("GET", "/day/searched"),
    ("GET", "/day/step.ics"),
    ("GET", "/day/calendar.ics"),
    ("GET", "/sign-in"),
    ("POST", "/sign-in"),
    ("POST", "/sign-out"),
    ("GET", "/pair/{token}"),
    ("POST", "/pair/{token}"),
    ("GET", "/trust"),
    ("GET", "/trust/authority.crt"),
    ("GET", "/words"),
    ("GET", "/watch"),
];
/// Pages that say the same to everybody.
const FOR_ALL: [&str; 5] = ["/sure", "/static/{path:.*}", "/manifest.webmanifest", "/worker.js", "/offline"];
/// What is asked at this machine alone.
const HERE: [&str; 2] = ["/healthz", "/metrics"];

#[test]
fn every_route_with_every_role() {
    let house = House::open();
    let (mut baker, mut helper) = (house.let_in(1, "baker"), house.let_in(2, "helper"));
    let mut nobody = house.phone(3);
    let open =
        ["/sign-in", "/trust", "/trust/authority.crt", "/manifest.webmanifest", "/worker.js", "/offline"];
    let addresses = cerealis_web::addresses();
    assert!(addresses.registered().len() > 80);
    for Registered { method, pattern: path, who } in addresses.registered().iter().cloned() {
        let method = method.to_string();
        // What ends a visit ends it for the rest of the walk.
        if path == "/sign-out" {
            continue;
        }
        let at = path
            .replace("{id}", "1")
            .replace("{token}", "0")
            .replace("{path:.*}", "mark.svg")
            .replace("{station}", "rise")
            .replace("{format}", "json")
            .replace("{key}", "own-x")
            .replace("{kind}", "formula")
            .replace("{name}", "x");
        let helps = HELPERS.contains(&(method.as_str(), path.as_str())) || FOR_ALL.contains(&path.as_str());
        let is_open =
            open.contains(&path.as_str()) || path.starts_with("/pair/") || path.starts_with("/static/");
        assert_eq!(who == Who::Anyone, is_open, "{path}");
        let unknown = nobody.ask(&method, &at, "").status;
        match (is_open, method.as_str()) {
            (true, _) => assert!(
                ![303, 403].contains(&unknown) || unknown == 303 && path == "/sign-in",
                "{method} {path}: {unknown}"
            ),
            (false, "GET") => assert_eq!(unknown, 303, "{method} {path}"),
            (false, _) => assert_eq!(unknown, 401, "{method} {path}"),
        }
        // What is told of as it happens has no end: its own test listens to it.
        if path == "/live" {
            continue;
        }
        let helped = helper.ask(&method, &at, "").status;
        if HERE.contains(&path.as_str()) {
            assert_eq!(helped, 404, "{method} {path}");
        } else {
            assert_eq!(helped != 403, helps, "{method} {path}: {helped} for a helper");
            // By another method it is told so, and which there are.
            let other = helper.ask("PUT", &at, "");
            assert!(other.status == 405 && other.header("allow").is_some(), "{path}: {}", other.status);
        }
        let baked = baker.ask(&method, &at, "").status;
        assert!(![401, 403].contains(&baked), "{method} {path}: {baked} for a baker");
        assert!(baked < 500 && helped < 500 && unknown < 500, "{method} {path}");
    }
    let page = helper.get("/day");
    assert!(page.text.contains("data-visitor=\"helper\""));
}

#[test]
fn its_own_machine_is_as_it_was() {
    let house = House::open();
    assert!(house.here("GET", "/formulas", "").contains("Weirside"));
    assert!(!house.here("GET", "/formulas", "").contains("data-visitor"));
    // Who sits at it is in already: nothing is added, and no link is used up.
    let link = house.link("helper");
    assert!(house.here("POST", &link, "name=Laptop").starts_with("HTTP/1.1 303"));
    assert!(house.here("POST", "/sign-in", "name=Laptop&passphrase=x").starts_with("HTTP/1.1 303"));
    assert!(house.here("GET", "/sharing", "").contains("None yet."));
    assert_eq!(house.phone(1).ask("POST", &link, "name=Phone").status, 303);
    // And listens to nobody else there.
    assert!(TcpStream::connect((LAPTOP, house.here.port)).is_err());
}

/// Three phones come in, the plug is pulled, the laptop is lost, and last night's file is restored on another: what was
/// there by night is there, and the phones are known.
#[test]
fn a_lost_laptop_costs_a_day_at_most() {
    let house = House::open();
    let mut phones: Vec<Phone> = (1..=3).map(|n| house.let_in(n, "baker")).collect();
    assert_eq!(phones[0].ask("POST", "/formulas", "name=Before+the+night&style=tin").status, 303);
    assert!(house.here("POST", "/backups", "op=now").contains("Backed up."));
    assert_eq!(phones[1].ask("POST", "/formulas", "name=After+the+night&style=tin").status, 303);
    let folder = house.folder.with_file_name("kitchen-backups");
    let names = std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path());
    let last = names.max().unwrap();
    let kept = tempfile::tempdir().unwrap();
    let file = kept.path().join("last.sqlite.gz");
    std::fs::copy(last, &file).unwrap();
    drop(house);
    let data = kept.path().join("kitchen.sqlite");
    let (data, file) = (data.to_str().unwrap(), file.to_str().unwrap());
    let restored = cerealis(&["restore", file, "--data", data], "");
    assert!(restored.status.success(), "{}", String::from_utf8_lossy(&restored.stderr));
    let port = free_port();
    let share = port.to_string();
    let here = running(&["serve", "--data", data, "--share", "--listen", LAPTOP, "--share-port", &share]);
    let list = here.ask("GET", "/formulas", "");
    assert!(list.contains("Before the night") && !list.contains("After the night"));
    let again = House { folder: kept.path().join("kitchen-sharing"), _dir: kept, here, port };
    for _ in 0..200 {
        if TcpStream::connect((LAPTOP, port)).is_ok() {
            break;
        }
        std::thread::sleep(Duration::from_millis(25));
    }
    for (n, old) in phones.into_iter().enumerate() {
        // The other laptop has an authority of its own, which is to be trusted anew.
        let mut phone = Phone { cookie: old.cookie, ..again.phone(n as u8 + 1) };
        assert!(phone.get("/formulas").text.contains("Before the night"), "phone {n}");
    }
}

/// What is told as it happens ends at once for a device that is removed, that goes out, or whose passphrase is another.
#[test]
fn who_is_signed_out_hears_nothing_more() {
    let house = House::open();
    for how in 0..3 {
        let mut phone = house.let_in(10 + how, "baker");
        let mut listens = phone.listen("/live");
        assert!(listens.hears("hello", Duration::from_secs(5)), "it listens");
        let list = house.here("GET", "/sharing", "");
        let id = list.split("remove:").nth(1).unwrap().split('"').next().unwrap().to_owned();
        match how {
            0 => drop(house.here("POST", "/sharing", &format!("op=remove:{id}"))),
            1 => drop(phone.ask("POST", "/sign-out", "")),
            _ => drop(house.here("POST", "/sharing", "op=passphrase&passphrase=another+ladder+for+crumbs")),
        }
        assert!(listens.ends_within(Duration::from_secs(2)), "{how}: it goes on");
    }
}

/// One device with very many streams keeps neither the others nor itself from the pages.
#[test]
fn a_device_that_listens_without_end_shuts_nobody_out() {
    let house = House::open();
    let helper = house.let_in(20, "helper");
    let mut baker = house.let_in(21, "baker");
    let mut streams: Vec<_> = (0..300).filter_map(|_| helper.try_listen("/live")).collect();
    assert_eq!(baker.get("/formulas").status, 200);
    assert!(house.here("GET", "/formulas", "").starts_with("HTTP/1.1 200"));
    let open =
        streams.iter_mut().filter_map(|s| (!s.ends_within(Duration::from_millis(5))).then_some(())).count();
    assert!(open <= 14, "{open} of them are kept open");
}

/// A flood of strangers at the passphrase keeps neither who was here before from signing in, nor who has a link.
#[test]
fn a_flood_of_strangers_keeps_nobody_of_the_household_out() {
    let house = House::open();
    let mut was_here = house.let_in(30, "baker");
    assert_eq!(was_here.ask("POST", "/sign-out", "").status, 303);
    let link = house.link("helper");
    let flood: Vec<u16> = (100..190)
        .map(|n| house.phone(n).ask("POST", "/sign-in", "name=X&passphrase=no&to=/").status)
        .collect();
    assert!(flood.contains(&429), "strangers are held up: {flood:?}");
    assert_eq!(house.phone(200).sign_in(PASSPHRASE).status, 429, "any stranger is");
    assert_eq!(was_here.sign_in(PASSPHRASE).status, 303, "who was here before is not");
    assert_eq!(house.phone(201).ask("POST", &link, "name=Phone").status, 303, "nor who has a link");
    // A name that somebody gave himself is none.
    let mut forged = house.phone(202);
    forged.known = Some(format!("__Host-cerealis-known={}", "0".repeat(88)));
    assert_eq!(forged.sign_in(PASSPHRASE).status, 429);
}
