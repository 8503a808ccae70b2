//! The household's door: opened and shut, and kept at the addresses that this machine has.

use std::io;
use std::net::{IpAddr, SocketAddr, TcpListener};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, RwLock};
use std::time::Duration;

use actix_web::dev::ServerHandle;
use cerealis_store::{Setting, Store};
use rustls::ServerConfig;
use rustls::sign::CertifiedKey;
use tokio::sync::{Notify, broadcast};

use super::addresses::{at_home, found, host_name, in_link};
use super::certificate::{Authority, Shown, finger_print, spoken};
use super::limits::Limits;
use super::links::Links;
use super::role::Names;

/// How often this machine's addresses and the age of its certificate are looked at.
const LOOKS: Duration = Duration::from_secs(60);

/// The port that is shared when none is given.
pub const PORT: u16 = 8751;

/// How it is shared.
#[derive(Clone, Debug)]
pub struct Share {
    /// Whether it is to be open whatever the switch says.
    pub always: bool,
    /// The port on the household's network.
    pub port: u16,
    /// Addresses to listen on, instead of all that this machine has on that network.
    pub listen: Vec<IpAddr>,
    /// The folder of its certificates.
    pub folder: PathBuf,
}

impl Share {
    /// Shut, with its certificates beside a kitchen's file.
    pub fn beside(data: &Path) -> Share {
        let mut name = data.file_stem().unwrap_or_default().to_owned();
        name.push("-sharing");
        Share { always: false, port: PORT, listen: Vec::new(), folder: data.with_file_name(name) }
    }
}

/// An open door.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Open {
    /// Links to it, the first to be tried first.
    pub links: Vec<String>,
    /// The finger print of this machine's certificate.
    pub machine: String,
    /// That of the kitchen's authority.
    pub authority: String,
}

/// How the door stands.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Standing {
    /// Shut.
    Shut,
    /// To be opened, and waiting for a passphrase.
    NoPassphrase,
    /// Open.
    Open(Open),
    /// To be opened, and why it could not be.
    Failed(String),
}

/// The household's door, and who tries to come in by it.
pub struct Doors {
    /// How it is shared.
    pub share: Share,
    /// Links that let a device in once.
    pub links: Links,
    /// How often it may be tried.
    pub limits: Limits,
    /// Names under which it is found.
    pub names: Names,
    standing: Mutex<Standing>,
    changed: Notify,
    out: broadcast::Sender<()>,
}

/// What runs behind an open door.
struct Running {
    handle: ServerHandle,
    addresses: Vec<SocketAddr>,
    shown: Arc<Shown>,
}

/// Begins to serve at listeners that speak TLS: the server, to be awaited by itself.
pub type Begin<'a> = &'a dyn Fn(Vec<TcpListener>, ServerConfig) -> io::Result<ServerHandle>;

impl Doors {
    /// A door that is shut.
    pub fn new(share: Share) -> Doors {
        Doors {
            share,
            links: Links::default(),
            limits: Limits::default(),
            names: Arc::new(RwLock::new(Vec::new())),
            standing: Mutex::new(Standing::Shut),
            changed: Notify::new(),
            out: broadcast::channel(4).0,
        }
    }

    /// How it stands.
    pub fn standing(&self) -> Standing {
        self.standing.lock().unwrap_or_else(|e| e.into_inner()).clone()
    }

    fn stands(&self, standing: Standing) {
        *self.standing.lock().unwrap_or_else(|e| e.into_inner()) = standing;
    }

    /// Tells who listens that devices were signed out.
    pub fn sign_out(&self) {
        let _ = self.out.send(());
    }

    /// Hears when devices were signed out.
    pub fn signed_out(&self) -> broadcast::Receiver<()> {
        self.out.subscribe()
    }

    /// The switch or the passphrase is another: it is looked at at once.
    pub fn changed(&self) {
        self.changed.notify_one();
    }

    /// Keeps the door as it is wanted, for as long as the program runs.
    pub async fn keep(&self, store: &Store, begin: Begin<'_>) {
        let mut running: Option<Running> = None;
        loop {
            running = self.look(store, begin, running).await;
            tokio::select! {
                () = self.changed.notified() => {}
                () = tokio::time::sleep(LOOKS) => {}
            }
        }
    }

    /// What it is to be open at.
    fn wanted(&self) -> Vec<SocketAddr> {
        let all = match self.share.listen.is_empty() {
            true => found(),
            false => self.share.listen.iter().copied().filter(|a| at_home(*a) || a.is_loopback()).collect(),
        };
        all.into_iter().map(|a| SocketAddr::new(a, self.share.port)).collect()
    }

    async fn look(&self, store: &Store, begin: Begin<'_>, running: Option<Running>) -> Option<Running> {
        let set = |setting| store.setting(setting).ok().flatten().is_some();
        let standing = match (self.share.always || set(Setting::Sharing), set(Setting::Passphrase)) {
            (false, _) => Standing::Shut,
            (true, false) => Standing::NoPassphrase,
            (true, true) => {
                let wanted = self.wanted();
                return match self.open(store, begin, running, wanted).await {
                    Ok((running, open)) => {
                        self.stands(Standing::Open(open));
                        Some(running)
                    }
                    Err(e) => {
                        log::error!("sharing failed: {e}");
                        self.stands(Standing::Failed(e.to_string()));
                        None
                    }
                };
            }
        };
        shut(running).await;
        self.stands(standing);
        None
    }

    async fn open(
        &self,
        store: &Store,
        begin: Begin<'_>,
        running: Option<Running>,
        wanted: Vec<SocketAddr>,
    ) -> io::Result<(Running, Open)> {
        if wanted.is_empty() {
            shut(running).await;
            return Err(io::Error::other("this machine is on no home network"));
        }
        let host = host_name();
        let now = store.clock.now();
        let authority = Authority::open(&self.share.folder, &host, now)?;
        let mut names: Vec<String> = wanted.iter().map(|a| a.ip().to_string()).collect();
        names.extend([format!("{host}.local"), host]);
        let key = authority.of(&names, now)?;
        let port = self.share.port;
        let with_port = |name: &str| format!("{name}:{port}");
        *self.names.write().unwrap_or_else(|e| e.into_inner()) = wanted
            .iter()
            .map(|a| with_port(&in_link(a.ip())))
            .chain(names[wanted.len()..].iter().map(|n| with_port(n)))
            .collect();
        let open = self.described(&authority, &key, &wanted)?;
        match running {
            Some(there) if there.addresses == wanted => {
                there.shown.show(key);
                Ok((there, open))
            }
            other => {
                shut(other).await;
                let shown = Arc::new(Shown::new(key));
                let taken = |a: &SocketAddr| {
                    TcpListener::bind(a).map_err(|e| io::Error::other(format!("{a} cannot be used: {e}")))
                };
                let listeners = wanted.iter().map(taken).collect::<io::Result<Vec<_>>>()?;
                let handle = begin(listeners, spoken(shown.clone())?)?;
                Ok((Running { handle, addresses: wanted, shown }, open))
            }
        }
    }

    fn described(&self, authority: &Authority, key: &CertifiedKey, at: &[SocketAddr]) -> io::Result<Open> {
        Ok(Open {
            links: at.iter().map(|a| format!("https://{}:{}", in_link(a.ip()), a.port())).collect(),
            machine: key.cert.first().map_or(String::new(), |c| finger_print(c)),
            authority: finger_print(&authority.certificate()?),
        })
    }
}

async fn shut(running: Option<Running>) {
    if let Some(running) = running {
        running.handle.stop(false).await;
    }
}
