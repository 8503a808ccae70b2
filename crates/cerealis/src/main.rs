//! The program: serve a kitchen, show the demo, compute on the command line.

mod compute;
mod place;

use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use cerealis_store::Store;
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
        Command::Demo { data, port, keep } => {
            place::or_default(data, "demo.sqlite").and_then(|d| demo(&d, port, keep))
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
    let store = Store::open(data)?;
    run(store, listener, data)
}

fn demo(data: &Path, port: u16, keep: bool) -> anyhow::Result<()> {
    let listener = bind(port)?;
    if !keep {
        // Only a file that is a kitchen is ever removed.
        if data.exists() {
            Store::open(data)?;
        }
        place::remove_kitchen(data)?;
    }
    let fresh = !data.exists();
    let store = Store::open(data)?;
    if fresh {
        store.fill_with_demo()?;
    }
    run(store, listener, data)
}

fn bind(port: u16) -> anyhow::Result<TcpListener> {
    cerealis_web::listen(port).map_err(|e| match e.kind() {
        std::io::ErrorKind::AddrInUse => {
            anyhow::anyhow!("Port {port} is taken by another program. Choose another with --port.")
        }
        _ => anyhow::anyhow!("Port {port} cannot be used: {e}. Choose another with --port."),
    })
}

fn run(store: Store, listener: TcpListener, data: &Path) -> anyhow::Result<()> {
    tracing_subscriber::fmt()
        .with_writer(std::io::stderr)
        .with_env_filter(
            tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "warn".into()),
        )
        .init();
    let address = listener.local_addr()?;
    println!("Cerealis is at http://{address}");
    println!("The kitchen is kept in {}", data.display());
    println!("Ctrl+C stops it.");
    actix_web::rt::System::new().block_on(cerealis_web::serve(store, listener))?;
    Ok(())
}
