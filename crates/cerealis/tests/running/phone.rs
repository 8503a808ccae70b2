//! Other devices of the household: loopback addresses that speak TLS to the laptop.

use std::io::{ErrorKind, Read, Write};
use std::net::{IpAddr, SocketAddr, TcpListener, TcpStream};
use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

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
}

#[derive(Debug)]
pub struct Reply {
    pub status: u16,
    pub text: String,
}

impl Reply {
    pub fn header(&self, name: &str) -> Option<&str> {
        let head = self.text.split("\r\n\r\n").next()?;
        head.lines().find_map(|l| {
            let (n, value) = l.split_once(": ")?;
            n.eq_ignore_ascii_case(name).then_some(value)
        })
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
        let cookie = self.cookie.as_ref().map_or(String::new(), |c| format!("Cookie: {c}\r\n"));
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
        if let Some(set) = reply.header("set-cookie") {
            self.cookie = set.split(';').next().map(str::to_owned);
        }
        reply
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
}
