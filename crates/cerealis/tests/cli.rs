//! The program as it is run.

mod running;

use std::net::TcpListener;
use std::process::{Command, Output, Stdio};

use running::{cerealis, running, running_in};

const NAMES: [&str; 30] = [
    "formula",
    "water",
    "mix",
    "rise",
    "rise-inverse",
    "forecast",
    "levain",
    "shape",
    "divide",
    "pan",
    "tray",
    "braid",
    "bake",
    "by-size",
    "what-now",
    "preheat",
    "cool",
    "plan",
    "day",
    "replan",
    "ways",
    "bake-state",
    "weigh",
    "read",
    "scale",
    "swap",
    "slips",
    "cost",
    "import",
    "export",
];

/// The example of a calculation in docs/compute.md.
fn example(name: &str) -> String {
    let docs = include_str!("../../../docs/compute.md");
    let section = docs.split("\n## ").find(|s| s.starts_with(&format!("{name}\n"))).unwrap();
    section.split("```json\n").nth(1).unwrap().split("```").next().unwrap().to_owned()
}

fn computed(name: &str, input: &str) -> serde_json::Value {
    let out = cerealis(&["compute", name], input);
    assert!(out.status.success(), "{name}: {}", String::from_utf8_lossy(&out.stderr));
    serde_json::from_slice(&out.stdout).unwrap()
}

#[test]
fn every_documented_example_computes() {
    for name in NAMES {
        computed(name, &example(name));
    }
    assert_eq!(computed("formula", &example("formula"))["figures"]["dough"], 1670.0);
    let read = computed("read", &example("read"));
    assert_eq!(read["lines"][1]["ingredient"], "instant-yeast");
    assert_eq!(computed("scale", &example("scale"))["formula"]["lines"][0]["grams"], 1000.0);
    let swapped = computed("swap", &example("swap"));
    assert_eq!(swapped["formula"]["lines"][2]["ingredient"], "honey");
    assert!(
        computed("import", &example("import"))["imported"]["recipe"]["lines"]
            .as_str()
            .unwrap()
            .contains("500 g")
    );
    assert!(computed("export", &example("export"))["text"].as_str().unwrap().contains("Bread flour"));
    let cost = computed("cost", &example("cost"))["cost"].clone();
    assert_eq!((cost["total"].as_f64(), cost["piece"].as_f64()), (Some(0.65), Some(0.325)));
    let inverse = computed("rise-inverse", &example("rise-inverse"));
    assert!(inverse["found"].as_bool().unwrap() && inverse["value"].as_f64().unwrap() < 0.2, "{inverse}");
    let forecast = computed("forecast", &example("forecast"));
    assert!(forecast["spread"].as_f64().unwrap() < 0.2, "{}", forecast["spread"]);
    assert!(computed("levain", &example("levain"))["ripens"].as_bool().unwrap());
    assert!(computed("rise", &example("rise"))["bulk_matters"][0]["change"].is_string());
    let day = computed("day", &example("day"));
    assert!(day["offers"][0]["steps"].as_array().unwrap().len() > 8 && day["proved"].as_bool().unwrap());
    let on = computed("replan", &example("replan"));
    let ways: Vec<&str> =
        on["offers"].as_array().unwrap().iter().map(|o| o["key"].as_str().unwrap()).collect();
    assert!(ways.len() > 1 && ways.iter().any(|w| w.starts_with("now-")), "{ways:?}");
    let ways = computed("ways", &example("ways"));
    let kinds: Vec<&str> = ways.as_array().unwrap().iter().map(|w| w["kind"].as_str().unwrap()).collect();
    assert!(kinds[0] == "as-written" && kinds.contains(&"fridge-bulk") && !kinds.contains(&"less-yeast"));
    let slips = computed("slips", &example("slips"));
    assert_eq!(slips["slips"][0]["code"], "salt-spoon");
    assert_eq!(slips["mended"]["lines"][2]["grams"], 10.0);
    let ready = computed("plan", &example("plan"))["day"]["ready"].as_str().unwrap().to_owned();
    assert!(ready.starts_with("2026-11-28T18:00:00"), "{ready}");
    // The engines take a formula in its kitchen too, as `plan` does.
    let planned = computed("plan", &example("plan"));
    assert_eq!(computed("rise", &example("plan"))["bulk"], planned["rise"]["bulk"]);
    assert_eq!(computed("levain", &example("plan"))["ahead"], planned["ahead"]);
    assert_eq!(computed("bake", &example("plan"))["time"], planned["bake"]["time"]);
    assert_eq!(computed("cool", &example("plan"))["cool"], planned["bake"]["cool"]);
    assert_eq!(computed("by-size", &example("plan")).as_array().unwrap().len(), 9);
    assert_eq!(computed("divide", &example("divide"))["pinches"][0]["to"], 1);
    assert!(computed("pan", &example("pan"))["says"].as_str().unwrap().contains("140 g"));
    assert_eq!(computed("tray", &example("tray"))["trays"], 2);
    assert_eq!(computed("braid", &example("braid"))["steps"][0]["order"][0], 3);
    assert!(computed("what-now", &example("what-now"))["says"].as_str().unwrap().contains("foil"));
    assert!(computed("preheat", &example("preheat"))["time"].as_f64().unwrap() > 20.0);
    assert!(computed("by-size", &example("by-size"))[0]["temperature"].as_f64().unwrap() > 200.0);
}

/// Every field of an example is one that the schema knows, so that schema and program agree.
#[test]
fn every_schema_knows_its_example() {
    for name in NAMES {
        let out = cerealis(&["schema", name], "");
        let schema: serde_json::Value = serde_json::from_slice(&out.stdout).unwrap();
        // Where a formula may be given instead, the plain input stands second.
        let plain = |side: &serde_json::Value| -> serde_json::Value {
            side["anyOf"].as_array().map_or(side.clone(), |either| {
                let name =
                    either[1]["$ref"].as_str().unwrap_or_default().rsplit('/').next().unwrap_or_default();
                side["$defs"][name].clone()
            })
        };
        let known = &plain(&schema["input"])["properties"];
        let given: serde_json::Value = serde_json::from_str(&example(name)).unwrap();
        for field in given.as_object().unwrap().keys() {
            assert!(known.get(field).is_some(), "{name}: {field} is not in the schema");
        }
        let output = plain(&schema["output"]);
        assert!(output["properties"].is_object() || output["items"].is_object(), "{name}");
    }
}

#[test]
fn nonsense_exits_with_2_and_names_the_place() {
    let error = |name: &str, input: &str| -> serde_json::Value {
        let out = cerealis(&["compute", name], input);
        assert_eq!(out.status.code(), Some(2));
        serde_json::from_slice::<serde_json::Value>(&out.stderr).unwrap()["error"].clone()
    };
    let cut = error("bake", "{\"piece\": 900,\n \"kind\":");
    assert_eq!(cut["code"], "malformed");
    assert_eq!(cut["path"], "line 2, column 8");
    let far = error("bake", &example("bake").replace("900", "-900"));
    assert_eq!((far["code"].as_str(), far["path"].as_str()), (Some("out-of-range"), Some("piece")));
    let deep = "[".repeat(100_000);
    assert_eq!(error("plan", &deep)["code"], "malformed");
    assert_eq!(error("rise", "")["code"], "malformed");
}

#[test]
fn a_busy_port_is_one_sentence_and_exit_1() {
    let taken = TcpListener::bind("127.0.0.1:0").unwrap();
    let port = taken.local_addr().unwrap().port().to_string();
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let out = cerealis(&["serve", "--port", &port, "--data", data.to_str().unwrap()], "");
    refused(&out, "is taken by another program");
}

#[test]
fn a_file_that_is_not_ours_is_one_sentence_and_exit_1() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("letter.txt");
    std::fs::write(&data, "Dear baker").unwrap();
    for command in ["serve", "demo"] {
        let out = cerealis(&[command, "--port", "0", "--data", data.to_str().unwrap()], "");
        refused(&out, "is not a Cerealis kitchen");
        assert_eq!(std::fs::read_to_string(&data).unwrap(), "Dear baker", "left alone");
    }
}

#[test]
fn an_unwritable_place_is_one_sentence_and_exit_1() {
    let dir = tempfile::tempdir().unwrap();
    std::fs::write(dir.path().join("letter"), "Dear baker").unwrap();
    let data = dir.path().join("letter/kitchen.sqlite");
    let out = cerealis(&["serve", "--port", "0", "--data", data.to_str().unwrap()], "");
    refused(&out, "cannot be made");
    let folder = dir.path().to_str().unwrap();
    refused(&cerealis(&["serve", "--port", "0", "--data", folder], ""), "cannot be opened for writing");
}

#[test]
fn the_folder_of_a_new_kitchen_is_made() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("mill/cottage/kitchen.sqlite");
    let page = running(&["serve", "--data", data.to_str().unwrap()]).ask("GET", "/formulas", "");
    assert!(page.contains("What would you like to bake?") && data.exists());
}

/// A real kitchen is never made into a demo, nor removed for one.
#[test]
fn a_real_kitchen_is_never_a_demo() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("mine.sqlite");
    let data = data.to_str().unwrap();
    running(&["serve", "--data", data]).ask("POST", "/formulas", "name=Heirloom&style=rye");
    for keep in [false, true] {
        let mut demo = vec!["demo", "--port", "0", "--data", data];
        if keep {
            demo.push("--keep");
        }
        refused(&cerealis(&demo, ""), "is left as it is");
    }
    assert!(running(&["serve", "--data", data]).ask("GET", "/formulas", "").contains("Heirloom"));
}

#[test]
fn a_file_that_is_open_is_not_opened_twice_and_a_second_demo_finds_its_own_place() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("mine.sqlite");
    let data = data.to_str().unwrap();
    let _first = running(&["serve", "--data", data]);
    for command in ["serve", "demo"] {
        refused(&cerealis(&[command, "--port", "0", "--data", data], ""), "open in another Cerealis");
    }
    let home = dir.path().join("home");
    let demo = || running_in(&["demo"], &home);
    let (one, two) = (demo(), demo());
    one.ask("POST", "/formulas", "name=A+guest&style=rye");
    assert!(!two.ask("GET", "/formulas", "").contains("A guest"));
    assert!(one.ask("GET", "/formulas", "").contains("A guest"), "the second took nothing from the first");
    assert!(home.join("cerealis/demo-2.sqlite").exists());
}

/// Killed at any moment from the first millisecond on, a file opens again with all that was confirmed.
#[test]
fn kills_lose_nothing_that_was_confirmed() {
    let dir = tempfile::tempdir().unwrap();
    for n in 0..12u64 {
        let data = dir.path().join(format!("{n}.sqlite"));
        let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
            .args(["demo", "--port", "0", "--data", data.to_str().unwrap()])
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        std::thread::sleep(std::time::Duration::from_millis(3 * n));
        let _ = child.kill();
        let _ = child.wait();
        let again = running(&["demo", "--data", data.to_str().unwrap()]);
        assert!(again.ask("GET", "/formulas", "").contains("Weirside tin loaf"), "after {n}");
    }
    let data = dir.path().join("saves.sqlite");
    for n in 0..8 {
        let mut run = running(&["serve", "--data", data.to_str().unwrap()]);
        let page = run.ask("POST", "/formulas", &format!("name=Loaf+{n}&style=tin"));
        assert!(page.starts_with("HTTP/1.1 303"), "{page:.200}");
        let _ = run.child.kill();
    }
    let list = running(&["serve", "--data", data.to_str().unwrap()]).ask("GET", "/formulas", "");
    for n in 0..8 {
        assert!(list.contains(&format!("Loaf {n}")), "Loaf {n} was confirmed");
    }
}

/// A reader that has had enough, and a disk that is full, are no reason to panic.
#[test]
fn an_answer_that_cannot_be_written_is_said_plainly() {
    let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
        .args(["schema", "plan"])
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(child.stdout.take());
    let out = child.wait_with_output().unwrap();
    assert!(!String::from_utf8_lossy(&out.stderr).contains("panicked"), "{out:?}");
    let full = std::fs::File::options().write(true).open("/dev/full");
    if let Ok(full) = full {
        let out = Command::new(env!("CARGO_BIN_EXE_cerealis"))
            .args(["schema", "plan"])
            .stdout(full)
            .output()
            .unwrap();
        assert_eq!(out.status.code(), Some(2));
        assert!(String::from_utf8_lossy(&out.stderr).contains("cannot be written"), "{out:?}");
    }
}

fn refused(out: &Output, because: &str) {
    let said = String::from_utf8_lossy(&out.stderr);
    assert_eq!(out.status.code(), Some(1), "{said}");
    assert!(said.contains(because), "{said}");
    assert_eq!(said.trim().lines().count(), 1, "{said}");
}

/// A kill right after the answer loses nothing: the next start has what was confirmed.
#[test]
fn a_kill_loses_nothing_that_was_confirmed() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let serve = ["serve", "--data", data.to_str().unwrap()];
    for n in 1..=3 {
        let program = running(&serve);
        let answer = program.ask("POST", "/formulas", &format!("name=Loaf+number+{n}&style=tin"));
        assert!(answer.starts_with("HTTP/1.1 303"), "{answer}");
        drop(program);
    }
    let program = running(&serve);
    let list = program.ask("GET", "/formulas", "");
    for n in 1..=3 {
        assert!(list.contains(&format!("Loaf number {n}")), "{n} is lost");
    }
}

/// The demo begins afresh, unless it is asked to go on.
#[test]
fn the_demo_is_made_afresh_unless_kept() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("demo.sqlite");
    let demo = ["demo", "--data", data.to_str().unwrap()];
    running(&demo).ask("POST", "/formulas", "name=A+guest&style=rye");
    let kept: Vec<&str> = demo.iter().copied().chain(["--keep"]).collect();
    assert!(running(&kept).ask("GET", "/formulas", "").contains("A guest"));
    let fresh = running(&demo).ask("GET", "/formulas", "");
    assert!(!fresh.contains("A guest") && fresh.contains("Weirside tin loaf"));
}

/// Backed up while it is served, checked, and restored only where no program has it open.
#[test]
fn a_kitchen_is_backed_up_checked_and_restored() {
    let dir = tempfile::tempdir().unwrap();
    let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("last.sqlite.gz"));
    let (data, file) = (data.to_str().unwrap(), file.to_str().unwrap());
    let served = running(&["serve", "--data", data]);
    let run = |arguments: &[&str]| {
        let out = cerealis(arguments, "");
        (
            out.status.success(),
            format!("{}{}", String::from_utf8_lossy(&out.stdout), String::from_utf8_lossy(&out.stderr)),
        )
    };
    let (made, says) = run(&["backup", file, "--data", data]);
    assert!(made && says.contains("SHA-256"), "{says}");
    let (whole, says) = run(&["check", file]);
    assert!(whole && says.contains("is whole"), "{says}");
    let (refused, says) = run(&["restore", file, "--data", data]);
    assert!(!refused && says.contains("open in another Cerealis"), "{says}");
    drop(served);
    let (done, says) = run(&["restore", file, "--data", data]);
    assert!(done && says.contains("is kept as"), "{says}");
    std::fs::write(file, "flour").unwrap();
    let (whole, says) = run(&["check", file]);
    assert!(!whole && says.contains("no backup of Cerealis"), "{says}");
}

/// Its figures and its log tell what is asked by its route, and nothing of what is typed.
#[test]
fn it_is_seen_from_outside_without_what_is_typed() {
    let dir = tempfile::tempdir().unwrap();
    let (data, log) = (dir.path().join("kitchen.sqlite"), dir.path().join("log"));
    let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
        .args(["demo", "--port", "0", "--metrics", "--data", data.to_str().unwrap()])
        .env("RUST_LOG", "info")
        .stdout(Stdio::piped())
        .stderr(std::fs::File::create(&log).unwrap())
        .spawn()
        .unwrap();
    let mut first = String::new();
    std::io::BufRead::read_line(&mut std::io::BufReader::new(child.stdout.as_mut().unwrap()), &mut first)
        .unwrap();
    let port = first.trim().rsplit(':').next().unwrap().parse().unwrap();
    let program = running::Running { child, port };
    program.ask("POST", "/formulas", "name=Secret+bread&style=tin");
    program.ask("GET", "/formulas?q=secretly", "");
    program.ask("GET", "/formulas/1/rise", "");
    let figures = program.ask("GET", "/metrics", "");
    for says in [
        "cerealis_requests_total{method=\"GET\",route=\"/formulas/{id}/{station}\",status=\"200\"} 1",
        "cerealis_engine_seconds_count{what=\"stations\"}",
        "cerealis_writes_total",
        "cerealis_devices_lately 0",
    ] {
        assert!(figures.contains(says), "{says} in {figures}");
    }
    let health = cerealis(&["health", "--port", &port.to_string()], "");
    assert!(health.status.success(), "{health:?}");
    drop(program);
    let log = std::fs::read_to_string(log).unwrap();
    let lines: Vec<serde_json::Value> = log.lines().map(|l| serde_json::from_str(l).unwrap()).collect();
    assert!(lines.iter().any(|l| l["route"] == "/formulas/{id}/{station}" && l["status"] == 200), "{log}");
    for typed in ["ecret", "Weirside"] {
        assert!(!log.contains(typed) && !figures.contains(typed), "{typed}");
    }
    assert!(!cerealis(&["health", "--port", &port.to_string()], "").status.success(), "it is gone");
}

/// A simulated scale greets, shows what is poured on it, and is set to nought when it is asked to.
#[test]
fn a_simulated_scale_speaks_its_lines() {
    use std::io::{BufRead, BufReader, Write};
    let dir = tempfile::tempdir().unwrap();
    let script = dir.path().join("flour.json");
    std::fs::write(&script, r#"[{"at": 0.2, "put": 250, "over": 0.5}]"#).unwrap();
    let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
        .args(["device", "scale", "--port", "0", "--script", script.to_str().unwrap()])
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut first = String::new();
    BufReader::new(child.stdout.as_mut().unwrap()).read_line(&mut first).unwrap();
    let address = first.trim().rsplit(' ').next().unwrap().to_owned();
    let stream = std::net::TcpStream::connect(address).unwrap();
    stream.set_read_timeout(Some(std::time::Duration::from_secs(10))).unwrap();
    let mut lines = BufReader::new(stream.try_clone().unwrap()).lines().map(|l| l.unwrap());
    assert_eq!(lines.next().unwrap(), "cerealis-device 1 scale Bench scale, simulated");
    let stands = |line: &String| {
        line.ends_with("g stable") && !line.starts_with("weight 0.") && !line.starts_with("weight 1.")
    };
    let heavy = lines.by_ref().take(60).find(stands).unwrap();
    assert!(heavy.starts_with("weight 25") || heavy.starts_with("weight 249"), "{heavy}");
    (&stream).write_all(b"what is this\ntare\n").unwrap();
    assert!(lines.by_ref().take(40).any(|l| l == "done"));
    let light = lines.by_ref().take(40).find(|l| l.ends_with("stable")).unwrap();
    assert!(["weight 0.", "weight 1.", "weight -"].iter().any(|w| light.starts_with(w)), "{light}");
    let _ = child.kill();
    let _ = child.wait();
    let out = cerealis(&["device", "probe", "--port", "0", "--script", "/nowhere.json"], "");
    refused(&out, "/nowhere.json");
}
