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
    let mut child = Command::new(env!("CARGO_BIN_EXE_cerealis"))
        .args(command)
        .args(["--port", "0"])
        .env("XDG_DATA_HOME", home)
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut first = String::new();
    std::io::BufRead::read_line(&mut std::io::BufReader::new(child.stdout.as_mut().unwrap()), &mut first)
        .unwrap();
    let port = first.trim().rsplit(':').next().and_then(|port| port.parse().ok());
    // It says on its error output why it ended; with what, is told here.
    let port = port.unwrap_or_else(|| panic!("no port in {first:?}: {:?}", child.wait()));
    Running { child, port }
}

impl Running {
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
