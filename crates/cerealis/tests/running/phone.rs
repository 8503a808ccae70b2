//! Other devices of the household: loopback addresses that speak TLS to the laptop.

use std::io::{ErrorKind, Read, Write};
use std::net::{IpAddr, SocketAddr, TcpListener, TcpStream};
use std::path::Path;
use std::sync::Arc;
use std::time::{Duration, Instant};

use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, ServerName};
use rustls::{ClientConfig, ClientConnection, RootCertStore, StreamOwned};
use socket2::{Domain, Socket, Type};

/// Where the laptop is, as the phones see it.
pub const LAPTOP: &str = "127.0.0.2";

pub fn free_port() -> u16 {
    TcpListener::bind((LAPTOP, 0)).unwrap().local_addr().unwrap().port()
}

/// The link in a page that lets one device in.
pub fn link_in(page: &str) -> Option<String> {
    let at = page.find("/pair/")?;
    page.get(at..at + 46).map(str::to_owned)
}

/// A device of the household, or a neighbour's.
#[derive(Clone)]
pub struct Phone {
    pub from: IpAddr,
    pub at: SocketAddr,
    pub tls: Arc<ClientConfig>,
    pub host: String,
    pub origin: String,
    pub cookie: Option<String>,
    /// By which it is told from a stranger, once it was let in.
    pub known: Option<String>,
}

#[derive(Debug)]
pub struct Reply {
    pub status: u16,
    pub text: String,
}

impl Reply {
    /// The last one of a name; of cookies that is the session's.
    pub fn header(&self, name: &str) -> Option<&str> {
        self.headers(name).into_iter().rfind(|v| !v.starts_with("__Host-cerealis-known="))
    }

    pub fn headers(&self, name: &str) -> Vec<&str> {
        let head = self.text.split("\r\n\r\n").next().unwrap_or_default();
        let of = |l| {
            let (n, value): (&str, &str) = str::split_once(l, ": ")?;
            n.eq_ignore_ascii_case(name).then_some(value)
        };
        head.lines().filter_map(of).collect()
    }
}

impl Phone {
    /// The nth of them, which trusts the authority in a folder.
    pub fn new(n: u8, port: u16, folder: &Path) -> Phone {
        let mut roots = RootCertStore::empty();
        roots.add(CertificateDer::from_pem_file(folder.join("authority.pem")).unwrap()).unwrap();
        let provider = Arc::new(rustls::crypto::ring::default_provider());
        let speaks =
            ClientConfig::builder_with_provider(provider).with_safe_default_protocol_versions().unwrap();
        let tls = Arc::new(speaks.with_root_certificates(roots).with_no_client_auth());
        let host = format!("{LAPTOP}:{port}");
        Phone {
            from: IpAddr::from([127, 0, 1, n]),
            at: SocketAddr::new(LAPTOP.parse().unwrap(), port),
            tls,
            origin: format!("https://{host}"),
            host,
            cookie: None,
            known: None,
        }
    }

    pub fn connect(&self) -> TcpStream {
        self.try_connect().unwrap()
    }

    /// The same where the program may be gone.
    pub fn try_connect(&self) -> std::io::Result<TcpStream> {
        let socket = Socket::new(Domain::IPV4, Type::STREAM, None)?;
        socket.bind(&SocketAddr::new(self.from, 0).into())?;
        socket.connect(&self.at.into())?;
        let stream: TcpStream = socket.into();
        stream.set_read_timeout(Some(Duration::from_secs(20)))?;
        Ok(stream)
    }

    pub fn send(&self, stream: impl Read + Write, method: &str, path: &str, body: &str) -> Reply {
        self.try_send(stream, method, path, body).unwrap_or_else(|e| panic!("{method} {path}: {e}"))
    }

    /// The same where the program may be gone.
    pub fn try_send(
        &self,
        stream: impl Read + Write,
        method: &str,
        path: &str,
        body: &str,
    ) -> std::io::Result<Reply> {
        let name = ServerName::try_from(LAPTOP).unwrap();
        let connection = ClientConnection::new(self.tls.clone(), name).unwrap();
        let mut tls = StreamOwned::new(connection, stream);
        let cookie = self.cookies();
        let request = format!(
            "{method} {path} HTTP/1.1\r\nHost: {}\r\nOrigin: {}\r\nConnection: close\r\n{cookie}\
             Content-Type: application/x-www-form-urlencoded\r\nContent-Length: {}\r\n\r\n{body}",
            self.host,
            self.origin,
            body.len()
        );
        tls.write_all(request.as_bytes())?;
        let mut bytes = Vec::new();
        match tls.read_to_end(&mut bytes) {
            Ok(_) => {}
            Err(e) if e.kind() == ErrorKind::UnexpectedEof => {}
            Err(e) => return Err(e),
        }
        let text = String::from_utf8_lossy(&bytes).into_owned();
        let status = text.split(' ').nth(1).and_then(|s| s.parse().ok());
        let status = status.ok_or_else(|| std::io::Error::other(format!("no answer: {text:?}")))?;
        Ok(Reply { status, text })
    }

    /// Asks, and keeps the cookie that comes back.
    pub fn ask(&mut self, method: &str, path: &str, body: &str) -> Reply {
        let reply = self.send(self.connect(), method, path, body);
        for set in reply.headers("set-cookie") {
            let cookie = set.split(';').next().map(str::to_owned);
            if set.starts_with("__Host-cerealis-known=") { self.known = cookie } else { self.cookie = cookie }
        }
        reply
    }

    fn cookies(&self) -> String {
        let all: Vec<&str> = self.cookie.iter().chain(&self.known).map(String::as_str).collect();
        if all.is_empty() { String::new() } else { format!("Cookie: {}\r\n", all.join("; ")) }
    }

    pub fn get(&mut self, path: &str) -> Reply {
        self.ask("GET", path, "")
    }

    pub fn sign_in(&mut self, passphrase: &str) -> Reply {
        self.ask(
            "POST",
            "/sign-in",
            &format!("name=Kitchen+phone&to=/kitchen&passphrase={}", passphrase.replace(' ', "+")),
        )
    }

    /// Asks, and listens to what comes.
    pub fn listen(&self, path: &str) -> Listening {
        self.try_listen(path).unwrap_or_else(|| panic!("{path}: nobody answers"))
    }

    /// The same where nobody may answer.
    pub fn try_listen(&self, path: &str) -> Option<Listening> {
        let name = ServerName::try_from(LAPTOP).unwrap();
        let connection = ClientConnection::new(self.tls.clone(), name).unwrap();
        let mut tls = StreamOwned::new(connection, self.try_connect().ok()?);
        let cookie = self.cookies();
        let request = format!("GET {path} HTTP/1.1\r\nHost: {}\r\n{cookie}\r\n", self.host);
        tls.write_all(request.as_bytes()).ok()?;
        Some(Listening { tls, heard: Vec::new() })
    }
}

/// A stream of events.
pub struct Listening {
    tls: StreamOwned<ClientConnection, TcpStream>,
    heard: Vec<u8>,
}

impl Listening {
    /// Reads on for so long at most; whether it goes on.
    fn read_on(&mut self, within: Duration) -> bool {
        let mut buffer = [0; 4096];
        let _ = self.tls.sock.set_read_timeout(Some(within.max(Duration::from_millis(1))));
        match self.tls.read(&mut buffer) {
            Ok(0) => false,
            Ok(n) => {
                self.heard.extend(&buffer[..n]);
                // The last part of an answer in parts.
                !self.heard.ends_with(b"\r\n0\r\n\r\n")
            }
            Err(e) => matches!(e.kind(), ErrorKind::WouldBlock | ErrorKind::TimedOut),
        }
    }

    /// Whether a word is heard in time.
    pub fn hears(&mut self, word: &str, within: Duration) -> bool {
        let until = Instant::now() + within;
        while !String::from_utf8_lossy(&self.heard).contains(word) {
            let left = until.saturating_duration_since(Instant::now());
            if left.is_zero() || !self.read_on(left) {
                return false;
            }
        }
        true
    }

    /// Whether it ends in time.
    pub fn ends_within(&mut self, within: Duration) -> bool {
        let until = Instant::now() + within;
        loop {
            let left = until.saturating_duration_since(Instant::now());
            if !self.read_on(left) {
                return true;
            }
            if left.is_zero() {
                return false;
            }
        }
    }
}
