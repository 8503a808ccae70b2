//! A simulated device at an address: whoever connects is greeted, and hears what it shows ten times a second.

use std::io;
use std::sync::{Arc, Mutex};
use std::time::Duration;

use futures_util::SinkExt;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::broadcast;
use tokio_stream::StreamExt;
use tokio_util::codec::{Framed, LinesCodec, LinesCodecError};

use crate::Device;
use crate::protocol::{Ask, LINE_MAX};

/// How often it says what it shows, times a second.
pub const HERTZ: f64 = 10.0;
/// The most that listen at once.
const LISTENERS: usize = 16;

type Shared<D> = Arc<Mutex<D>>;

/// Serves a device until the process ends.
///
/// # Errors
/// What the listener reports.
pub async fn serve<D: Device>(device: D, listener: TcpListener) -> io::Result<()> {
    let device: Shared<D> = Arc::new(Mutex::new(device));
    let (says, _) = broadcast::channel::<String>(64);
    let (ticking, heard) = (device.clone(), says.clone());
    tokio::spawn(async move {
        let mut tick = tokio::time::interval(Duration::from_secs_f64(1.0 / HERTZ));
        loop {
            tick.tick().await;
            let line = locked(&ticking).after(1.0 / HERTZ);
            if let Some(line) = line {
                // Nobody may listen just now.
                let _ = heard.send(line.to_string());
            }
        }
    });
    loop {
        let (stream, _) = listener.accept().await?;
        if says.receiver_count() >= LISTENERS {
            continue;
        }
        tokio::spawn(listened(stream, device.clone(), says.subscribe()));
    }
}

fn locked<D>(device: &Shared<D>) -> std::sync::MutexGuard<'_, D> {
    device.lock().unwrap_or_else(|e| e.into_inner())
}

/// One who listens, until they go or say what is no line.
async fn listened<D: Device>(
    stream: TcpStream,
    device: Shared<D>,
    mut says: broadcast::Receiver<String>,
) -> Result<(), LinesCodecError> {
    let mut lines = Framed::new(stream, LinesCodec::new_with_max_length(LINE_MAX));
    let greeting = locked(&device).greeting().to_string();
    lines.send(greeting).await?;
    loop {
        tokio::select! {
            said = says.recv() => match said {
                Ok(line) => lines.send(line).await?,
                // Who is too slow hears the newest.
                Err(broadcast::error::RecvError::Lagged(_)) => {}
                Err(broadcast::error::RecvError::Closed) => return Ok(()),
            },
            asked = lines.next() => {
                let Some(asked) = asked else { return Ok(()) };
                let answer = Ask::parse(&asked?).and_then(|ask| locked(&device).asked(ask));
                if let Some(answer) = answer {
                    lines.send(answer.to_string()).await?;
                }
            }
        }
    }
}
