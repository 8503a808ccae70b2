//! The program: serve a kitchen, show the demo, compute on the command line.

mod compute;
mod device;
mod keeper;
mod log;
mod place;

use std::io::Write;
use std::net::{IpAddr, TcpListener};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use cerealis_core::kitchen::Kitchen;
use cerealis_store::{Backups, Clock, FileLock, Setting, Store};
use cerealis_web::House;
use cerealis_web::sharing::{self, Share};
use clap::{Args, Parser, Subcommand};

/// The port that pages are served on when none is given.
const PORT: u16 = 8750;

#[derive(Parser)]
#[command(name = "cerealis", version, about = "A home bread baker's bench partner")]
struct Program {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve your own kitchen.
    Serve {
        /// The kitchen's file; made when it is not there.
        #[arg(long)]
        data: Option<PathBuf>,
        #[command(flatten)]
        serving: Serving,
    },
    /// Serve the demo kitchen, made afresh.
    Demo {
        /// Where to keep the demo's file.
        #[arg(long)]
        data: Option<PathBuf>,
        #[command(flatten)]
        serving: Serving,
        /// Go on with the demo kitchen as it was left.
        #[arg(long)]
        keep: bool,
    },
    /// Back a kitchen up into one file, while it is open too.
    Backup {
        /// The backup; what is there under that name is replaced.
        file: PathBuf,
        /// The kitchen's file.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Say whether a backup can be restored.
    Check {
        /// The backup.
        file: PathBuf,
    },
    /// Restore a backup; what was there is kept beside it.
    Restore {
        /// The backup.
        file: PathBuf,
        /// The kitchen's file, which no program has open.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Set the passphrase by which the household's devices are let in: one line of standard input.
    Passphrase {
        /// The kitchen's file, which no program has open.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Run a simulated device of the bench.
    Device {
        /// Which.
        #[command(subcommand)]
        simulated: device::Simulated,
    },
    /// Ask a kitchen that is served whether it is well.
    Health {
        /// The port on this machine.
        #[arg(long, default_value_t = PORT)]
        port: u16,
    },
    /// Compute one thing: JSON in, JSON out.
    Compute {
        /// What to compute.
        name: compute::Name,
        /// A file to read instead of standard input.
        #[arg(long)]
        input: Option<PathBuf>,
    },
    /// Print the JSON Schema of what `compute` takes and gives.
    Schema {
        /// What is computed.
        name: compute::Name,
    },
}

/// How a kitchen is served.
#[derive(Args)]
struct Serving {
    /// The port on this machine.
    #[arg(long, default_value_t = PORT)]
    port: u16,
    /// Let the household's devices in, whatever the page Sharing says; by the passphrase, over TLS.
    #[arg(long)]
    share: bool,
    /// The port on the household's network.
    #[arg(long, default_value_t = sharing::PORT)]
    share_port: u16,
    /// An address of a home network to be listened on, instead of all that this machine has; may be repeated.
    #[arg(long)]
    listen: Vec<IpAddr>,
    /// The folder for backups, instead of one beside the kitchen's file.
    #[arg(long)]
    backups: Option<PathBuf>,
    /// Give figures of requests, engines and writes out at /metrics, to this machine alone.
    #[arg(long)]
    metrics: bool,
}

impl Serving {
    fn share(&self, data: &Path) -> Share {
        let beside = Share::beside(data);
        Share { always: self.share, port: self.share_port, listen: self.listen.clone(), ..beside }
    }
}

fn main() -> ExitCode {
    let outcome = match Program::parse().command {
        Command::Serve { data, serving } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| serve(&d, serving))
        }
        Command::Demo { data, serving, keep } => demo(data, serving, keep),
        Command::Passphrase { data } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| set_passphrase(&d))
        }
        Command::Backup { file, data } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| backup(&d, &file))
        }
        Command::Check { file } => check(&file),
        Command::Restore { file, data } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| restored(&file, &d))
        }
        Command::Device { simulated } => device::run(simulated),
        Command::Health { port } => health(port),
        Command::Compute { name, input } => return compute::run(name, input.as_deref()),
        Command::Schema { name } => return compute::schema(name),
    };
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("{error}");
            ExitCode::FAILURE
        }
    }
}

fn serve(data: &Path, serving: Serving) -> anyhow::Result<()> {
    let listener = bind(serving.port)?;
    let held = place::hold(data)?.ok_or_else(|| in_use(data))?;
    let store = Store::open(data)?;
    run(store, listener, data, held, serving)
}

fn set_passphrase(data: &Path) -> anyhow::Result<()> {
    let _held = place::hold(data)?.ok_or_else(|| in_use(data))?;
    let mut line = String::new();
    std::io::stdin().read_line(&mut line)?;
    let kept = sharing::passphrase::kept(line.trim_end_matches(['\r', '\n'])).map_err(anyhow::Error::msg)?;
    let store = Store::open(data)?;
    store.set(Setting::Passphrase, Some(&kept))?;
    store.remove_devices(None)?;
    println!("The passphrase of {} is set.", data.display());
    Ok(())
}

fn backup(data: &Path, file: &Path) -> anyhow::Result<()> {
    let made = cerealis_store::back_up(data, file, Clock::system().now())?;
    println!("{} holds {}: {} bytes, SHA-256 {}.", file.display(), data.display(), made.bytes, made.sha256);
    Ok(())
}

fn check(file: &Path) -> anyhow::Result<()> {
    let made = cerealis_store::check_backup(file)?;
    println!(
        "{} is whole: made {} by Cerealis {}, {} bytes.",
        file.display(),
        made.made_at,
        made.program,
        made.bytes
    );
    Ok(())
}

fn restored(file: &Path, data: &Path) -> anyhow::Result<()> {
    let _held = place::hold(data)?.ok_or_else(|| in_use(data))?;
    let kept = cerealis_store::restore(file, data, Clock::system().now())?;
    println!("{} is restored from {}.", data.display(), file.display());
    if let Some(kept) = kept {
        println!("What was there is kept as {}.", kept.display());
    }
    Ok(())
}

fn health(port: u16) -> anyhow::Result<()> {
    let host = format!("127.0.0.1:{port}");
    let mut stream = std::net::TcpStream::connect(&host).map_err(|e| {
        anyhow::anyhow!("No kitchen answers at http://{host}: {e}. Give its port with --port.")
    })?;
    stream.set_read_timeout(Some(std::time::Duration::from_secs(5)))?;
    write!(stream, "GET /healthz HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n\r\n")?;
    let mut answer = String::new();
    std::io::Read::read_to_string(&mut stream, &mut answer)?;
    println!("{}", answer.rsplit("\r\n").find(|l| l.starts_with('{')).unwrap_or(&answer));
    anyhow::ensure!(answer.starts_with("HTTP/1.1 200"), "It is not well.");
    Ok(())
}

fn in_use(data: &Path) -> anyhow::Error {
    anyhow::anyhow!(
        "{} is open in another Cerealis. Stop that one, or choose another file with --data.",
        data.display()
    )
}

/// How many demos find a place beside each other.
const DEMOS: usize = 20;

fn demo(given: Option<PathBuf>, serving: Serving, keep: bool) -> anyhow::Result<()> {
    let listener = bind(serving.port)?;
    let (data, held) = match given {
        Some(data) => {
            let data = place::or_default(Some(data), "")?;
            let held = place::hold(&data)?.ok_or_else(|| in_use(&data))?;
            (data, held)
        }
        None => free_demo_place()?,
    };
    if data.exists() {
        let store = Store::open(&data)?;
        if !(store.is_demo()? || store.is_empty()?) {
            anyhow::bail!(
                "{} is a kitchen, and not marked as a demo: it is left as it is. Open it with `cerealis serve --data`, or give the demo another place.",
                data.display()
            );
        }
        if !keep {
            store.clear_demo()?;
        }
    }
    let store = Store::open(&data)?;
    if store.is_empty()? {
        store.fill_with_demo()?;
    }
    let instruments = device::bench()?;
    store.save_kitchen(None, &Kitchen { instruments, ..store.kitchen()?.kitchen })?;
    run(store, listener, &data, held, serving)
}

/// A place of the demo's own that no other program has open, and that holds a demo or nothing.
fn free_demo_place() -> anyhow::Result<(PathBuf, FileLock)> {
    for n in 1..=DEMOS {
        let name = if n == 1 { "demo.sqlite".to_owned() } else { format!("demo-{n}.sqlite") };
        let data = place::or_default(None, &name)?;
        let Some(held) = place::hold(&data)? else { continue };
        let ours = |store: Store| Ok::<_, cerealis_store::StoreError>(store.is_demo()? || store.is_empty()?);
        if !data.exists() || Store::open(&data).and_then(ours).unwrap_or(false) {
            return Ok((data, held));
        }
    }
    anyhow::bail!("{DEMOS} demos are open already, or their places are taken. Give one with --data.")
}

fn bind(port: u16) -> anyhow::Result<TcpListener> {
    cerealis_web::listen(port).map_err(|e| match e.kind() {
        std::io::ErrorKind::AddrInUse => {
            anyhow::anyhow!("Port {port} is taken by another program. Choose another with --port.")
        }
        _ => anyhow::anyhow!("Port {port} cannot be used: {e}. Choose another with --port."),
    })
}

fn run(
    store: Store,
    listener: TcpListener,
    data: &Path,
    held: FileLock,
    serving: Serving,
) -> anyhow::Result<()> {
    log::begin();
    let address = listener.local_addr()?;
    let zone = store.kitchen()?.kitchen.time_zone;
    // A full disk or a closed pipe behind standard output is no reason not to serve.
    let mut out = std::io::stdout();
    let _ = writeln!(
        out,
        "Cerealis is at http://{address}\nThe kitchen is kept in {}\nIts clock goes by {zone}; the Kitchen page changes that.\nCtrl+C stops it.",
        data.display()
    );
    let backups = Backups::of(data, serving.backups.clone());
    keeper::begin(store.clone(), backups.clone());
    keeper::watch(store.clone());
    let house = House::new(store, serving.share(data), backups);
    let house = if serving.metrics { house.with_figures() } else { house };
    actix_web::rt::System::new().block_on(cerealis_web::serve(house, listener))?;
    // The connections are not closed: the log of writes stays beside the file, and the next start reads it.
    std::mem::forget(held);
    Ok(())
}
