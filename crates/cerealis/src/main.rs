//! The program: serve a kitchen, show the demo, compute on the command line.

mod compute;
mod place;

use std::io::Write;
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use cerealis_store::{Clock, Store};
use clap::{Parser, Subcommand};

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
        /// The port on this machine.
        #[arg(long, default_value_t = PORT)]
        port: u16,
    },
    /// Serve the demo kitchen, made afresh.
    Demo {
        /// Where to keep the demo's file.
        #[arg(long)]
        data: Option<PathBuf>,
        /// The port on this machine.
        #[arg(long, default_value_t = PORT)]
        port: u16,
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

fn main() -> ExitCode {
    let outcome = match Program::parse().command {
        Command::Serve { data, port } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| serve(&d, port))
        }
        Command::Demo { data, port, keep } => demo(data, port, keep),
        Command::Backup { file, data } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| backup(&d, &file))
        }
        Command::Check { file } => check(&file),
        Command::Restore { file, data } => {
            place::or_default(data, "kitchen.sqlite").and_then(|d| restored(&file, &d))
        }
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

fn serve(data: &Path, port: u16) -> anyhow::Result<()> {
    let listener = bind(port)?;
    let held = place::hold(data)?.ok_or_else(|| in_use(data))?;
    let store = Store::open(data)?;
    run(store, listener, data, held)
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

fn in_use(data: &Path) -> anyhow::Error {
    anyhow::anyhow!(
        "{} is open in another Cerealis. Stop that one, or choose another file with --data.",
        data.display()
    )
}

/// How many demos find a place beside each other.
const DEMOS: usize = 20;

fn demo(given: Option<PathBuf>, port: u16, keep: bool) -> anyhow::Result<()> {
    let listener = bind(port)?;
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
        drop(store);
        if !keep {
            place::remove_kitchen(&data)?;
        }
    }
    let store = Store::open(&data)?;
    if store.is_empty()? {
        store.fill_with_demo()?;
    }
    run(store, listener, &data, held)
}

/// A place of the demo's own that no other program has open, and that holds a demo or nothing.
fn free_demo_place() -> anyhow::Result<(PathBuf, place::Held)> {
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

fn run(store: Store, listener: TcpListener, data: &Path, held: place::Held) -> anyhow::Result<()> {
    env_logger::Builder::from_env(env_logger::Env::default().default_filter_or("warn")).init();
    let address = listener.local_addr()?;
    let zone = store.kitchen()?.kitchen.time_zone;
    // A full disk or a closed pipe behind standard output is no reason not to serve.
    let mut out = std::io::stdout();
    let _ = writeln!(
        out,
        "Cerealis is at http://{address}\nThe kitchen is kept in {}\nIts clock goes by {zone}; the Kitchen page changes that.\nCtrl+C stops it.",
        data.display()
    );
    actix_web::rt::System::new().block_on(cerealis_web::serve(store, listener))?;
    drop(held);
    Ok(())
}
