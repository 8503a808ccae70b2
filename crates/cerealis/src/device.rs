//! Simulated devices as small programs: a bench scale, a dough probe, an oven thermometer.

use std::io::Write;
use std::net::{IpAddr, Ipv4Addr};
use std::path::PathBuf;
use std::sync::mpsc;

use cerealis_core::kitchen::{Instrument, InstrumentKind};
use cerealis_devices::{Device, Oven, OvenStep, Probe, ProbeStep, Scale};
use clap::{Args, Subcommand};
use serde::de::DeserializeOwned;
use tokio::net::TcpListener;

/// A device that is simulated.
#[derive(Subcommand)]
pub enum Simulated {
    /// A bench scale.
    Scale {
        #[command(flatten)]
        how: How,
        /// The step that it shows, g.
        #[arg(long, default_value_t = 1.0)]
        step: f64,
    },
    /// A thermometer that is stuck into a dough.
    Probe {
        #[command(flatten)]
        how: How,
    },
    /// A thermometer that lies in an oven.
    Oven {
        #[command(flatten)]
        how: How,
    },
}

/// How it is simulated.
#[derive(Args)]
pub struct How {
    /// The port; a free one for 0.
    #[arg(long)]
    port: u16,
    /// The address.
    #[arg(long, default_value_t = IpAddr::V4(Ipv4Addr::LOCALHOST))]
    address: IpAddr,
    /// What is done at it: a JSON list of steps, each with its second.
    #[arg(long)]
    script: Option<PathBuf>,
    /// What its noise is drawn from.
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

impl How {
    fn steps<S: DeserializeOwned>(&self) -> anyhow::Result<Vec<S>> {
        let Some(file) = &self.script else { return Ok(Vec::new()) };
        let text = std::fs::read_to_string(file).map_err(|e| anyhow::anyhow!("{}: {e}.", file.display()))?;
        serde_json::from_str(&text).map_err(|e| anyhow::anyhow!("{} does not read: {e}.", file.display()))
    }
}

/// Runs one until the process is told to stop.
pub fn run(simulated: Simulated) -> anyhow::Result<()> {
    match simulated {
        Simulated::Scale { how, step } => serve(Scale::new(step, how.steps()?, how.seed), &how),
        Simulated::Probe { how } => serve(Probe::new(how.steps()?, how.seed), &how),
        Simulated::Oven { how } => serve(Oven::new(how.steps()?, how.seed), &how),
    }
}

fn serve(device: impl Device, how: &How) -> anyhow::Result<()> {
    let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
    runtime.block_on(async {
        let listener = TcpListener::bind((how.address, how.port)).await.map_err(|e| {
            anyhow::anyhow!("Port {} cannot be used: {e}. Choose another with --port.", how.port)
        })?;
        let address = listener.local_addr()?;
        let _ = writeln!(std::io::stdout(), "{} at {address}", device.greeting());
        Ok(cerealis_devices::serve(device, listener).await?)
    })
}

/// The three of them at free ports of this machine, for as long as the program runs; as the kitchen names them.
///
/// # Errors
/// What the sockets report.
pub fn bench() -> anyhow::Result<Vec<Instrument>> {
    let (tell, told) = mpsc::channel();
    std::thread::Builder::new().name("instruments".into()).spawn(move || {
        let runtime = match tokio::runtime::Builder::new_current_thread().enable_all().build() {
            Ok(runtime) => runtime,
            Err(e) => return drop(tell.send(Err(e))),
        };
        runtime.block_on(async {
            let free = || TcpListener::bind((Ipv4Addr::LOCALHOST, 0));
            let (scale, probe, oven) = match tokio::try_join!(free(), free(), free()) {
                Ok(all) => all,
                Err(e) => return drop(tell.send(Err(e))),
            };
            let at = |kind, listener: &TcpListener| {
                listener.local_addr().map(|a| Instrument { kind, address: a.to_string() })
            };
            let named = [
                at(InstrumentKind::Scale, &scale),
                at(InstrumentKind::Probe, &probe),
                at(InstrumentKind::Oven, &oven),
            ];
            let _ = tell.send(named.into_iter().collect());
            let dough = vec![ProbeStep { at: 0.0, into: 24.0, warms: 0.0 }];
            let hot = vec![OvenStep { at: 0.0, dial: Some(220.0), door: 0.0 }];
            let _ = tokio::join!(
                cerealis_devices::serve(Scale::new(1.0, Vec::new(), 1), scale),
                cerealis_devices::serve(Probe::new(dough, 2), probe),
                cerealis_devices::serve(Oven::new(hot, 3), oven),
            );
        });
    })?;
    Ok(told.recv()??)
}
