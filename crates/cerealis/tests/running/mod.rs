//! The program while it runs, and what it is asked.

#![allow(dead_code, reason = "each test file uses its part of it")]

pub mod phone;

use std::io::Write;
use std::path::Path;
use std::process::{Command, Output, Stdio};

/// Runs it to its end, with something on its standard input.
pub fn cerealis(arguments: &[&str], input: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(input.as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

/// A running program that is killed when it goes out of scope.
pub struct Running {
    pub child: std::process::Child,
    pub port: u16,
}

impl Drop for Running {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

pub fn running(command: &[&str]) -> Running {
    running_in(command, Path::new("/nowhere"))
}

/// Runs it with a data folder of its own.
pub fn running_in(command: &[&str], home: &Path) -> Running {
    started(
        Command::new(env!("CARGO_BIN_EXE_cerealis"))
            .args(command)
            .args(["--port", "0"])
            .env("XDG_DATA_HOME", home),
    )
}

/// Starts it by a command of one's own, and waits until it serves.
pub fn started(command: &mut Command) -> Running {
    let mut child = command.stdout(Stdio::piped()).spawn().unwrap();
    let mut first = String::new();
    std::io::BufRead::read_line(&mut std::io::BufReader::new(child.stdout.as_mut().unwrap()), &mut first)
        .unwrap();
    let port = first.trim().rsplit(':').next().and_then(|port| port.parse().ok());
    // It says on its error output why it ended; with what, is told here.
    let port = port.unwrap_or_else(|| panic!("no port in {first:?}: {:?}", child.wait()));
    Running { child, port }
}

impl Running {
    /// Asks for something that is no text.
    pub fn ask_bytes(&self, method: &str, path: &str) -> Vec<u8> {
        let host = format!("127.0.0.1:{}", self.port);
        let mut stream = std::net::TcpStream::connect(&host).unwrap();
        let request = format!("{method} {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n\r\n");
        stream.write_all(request.as_bytes()).unwrap();
        let mut answer = Vec::new();
        std::io::Read::read_to_end(&mut stream, &mut answer).unwrap();
        answer
    }

    /// Sends one request and returns the whole answer.
    pub fn ask(&self, method: &str, path: &str, body: &str) -> String {
        let host = format!("127.0.0.1:{}", self.port);
        let mut stream = std::net::TcpStream::connect(&host).unwrap();
        let request = format!(
            "{method} {path} HTTP/1.1\r\nHost: {host}\r\nOrigin: http://{host}\r\nConnection: close\r\n\
             Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\n\r\n{body}",
            body.len()
        );
        stream.write_all(request.as_bytes()).unwrap();
        let mut answer = String::new();
        std::io::Read::read_to_string(&mut stream, &mut answer).unwrap();
        answer
    }
}

/// The fields of a page's form, as a browser would send them.
pub fn fields(page: &str) -> Vec<(String, String)> {
    let value = |tag: &str, name: &str| -> Option<String> {
        Some(
            tag.split(&format!(" {name}=\""))
                .nth(1)?
                .split('"')
                .next()?
                .replace("&#39;", "'")
                .replace("&amp;", "&"),
        )
    };
    let mut all = Vec::new();
    for part in page.split("<input").skip(1) {
        let tag = part.split('>').next().unwrap_or_default();
        let ticked =
            !tag.contains("type=\"checkbox\"") && !tag.contains("type=\"radio\"") || tag.contains(" checked");
        if let Some(name) = value(tag, "name").filter(|_| ticked) {
            all.push((name, value(tag, "value").unwrap_or_else(|| "on".into())));
        }
    }
    for part in page.split("<select").skip(1) {
        let (tag, rest) = part.split_once('>').unwrap_or_default();
        let inside = rest.split("</select").next().unwrap_or_default();
        let chosen =
            inside.split("<option").find(|o| o.split('>').next().is_some_and(|t| t.contains(" selected")));
        if let (Some(name), Some(option)) = (value(tag, "name"), chosen) {
            all.push((name, value(option, "value").unwrap_or_default()));
        }
    }
    all
}
