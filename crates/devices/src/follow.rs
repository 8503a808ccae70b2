//! Listening to a device: greeted, then told what it shows; where it goes, it is called again, less and less often.

use std::time::Duration;

use futures_util::SinkExt;
use tokio::net::TcpStream;
use tokio::sync::mpsc;
use tokio::time::{sleep, timeout};
use tokio_stream::StreamExt;
use tokio_util::codec::{Framed, LinesCodec};

use crate::protocol::{Ask, Kind, LINE_MAX, Line, VERSION};

/// The first pause before a device that is gone is called again, and the longest.
const PAUSES: (Duration, Duration) = (Duration::from_millis(250), Duration::from_secs(15));
/// How long a device may take to be there, and to say who it is.
const PATIENCE: Duration = Duration::from_secs(3);
/// A device that says nothing for so long is gone.
const SILENCE: Duration = Duration::from_secs(4);

/// What is heard of a device.
#[derive(Clone, Debug, PartialEq)]
pub enum Heard {
    /// It is there, under its name.
    There(Kind, String),
    /// What it says.
    Says(Line),
    /// It is gone, and why.
    Gone(String),
}

/// Listens to the device at an address until nobody wants to hear of it; what it is asked goes to it while it is there.
pub async fn follow(address: String, heard: mpsc::Sender<Heard>, mut asks: mpsc::Receiver<Ask>) {
    let mut pause = PAUSES.0;
    loop {
        let why = match timeout(PATIENCE, TcpStream::connect(&address)).await {
            Err(_) => "it does not answer".to_owned(),
            Ok(Err(e)) => e.to_string(),
            Ok(Ok(stream)) => {
                let (was_there, why) = listened(stream, &heard, &mut asks).await;
                if was_there {
                    pause = PAUSES.0;
                }
                why
            }
        };
        if heard.send(Heard::Gone(why)).await.is_err() {
            return;
        }
        sleep(pause).await;
        pause = (2 * pause).min(PAUSES.1);
        // What it was asked while it was gone is not done later.
        while asks.try_recv().is_ok() {}
    }
}

/// One connection, until it ends: whether the device was one, and why it ended.
async fn listened(
    stream: TcpStream,
    heard: &mpsc::Sender<Heard>,
    asks: &mut mpsc::Receiver<Ask>,
) -> (bool, String) {
    let mut lines = Framed::new(stream, LinesCodec::new_with_max_length(LINE_MAX));
    let greeting = match timeout(PATIENCE, lines.next()).await {
        Ok(Some(Ok(line))) => Line::parse(&line),
        _ => return (false, "it does not say what it is".into()),
    };
    match greeting {
        Ok(Some(Line::Greeting { version, .. })) if version > VERSION => {
            return (false, format!("it speaks version {version} of the lines, and this program {VERSION}"));
        }
        Ok(Some(Line::Greeting { kind, name, .. })) => {
            if heard.send(Heard::There(kind, name)).await.is_err() {
                return (false, String::new());
            }
        }
        _ => return (false, "it is no device of these lines".into()),
    }
    loop {
        tokio::select! {
            said = timeout(SILENCE, lines.next()) => match said {
                Err(_) => return (true, "it says nothing any more".into()),
                Ok(None) => return (true, "it has gone".into()),
                Ok(Some(Err(e))) => return (true, e.to_string()),
                Ok(Some(Ok(line))) => {
                    // What does not read is passed over: the next line may.
                    if let Ok(Some(line)) = Line::parse(&line)
                        && heard.send(Heard::Says(line)).await.is_err()
                    {
                        return (true, String::new());
                    }
                }
            },
            ask = asks.recv() => {
                let Some(ask) = ask else { return (true, String::new()) };
                if lines.send(ask.to_string()).await.is_err() {
                    return (true, "it has gone".into());
                }
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::protocol::{Act, Quantity};
    use crate::{Probe, ProbeStep, Scale, serve};
    use tokio::net::TcpListener;

    async fn next(heard: &mut mpsc::Receiver<Heard>) -> Heard {
        timeout(Duration::from_secs(10), heard.recv()).await.expect("in time").expect("it goes on")
    }

    #[tokio::test]
    async fn a_scale_is_heard_tared_and_poured_on() {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let address = listener.local_addr().unwrap().to_string();
        tokio::spawn(serve(Scale::new(1.0, Vec::new(), 4), listener));
        let (tell, mut heard) = mpsc::channel(8);
        let (ask, asks) = mpsc::channel(8);
        tokio::spawn(follow(address, tell, asks));
        assert!(
            matches!(next(&mut heard).await, Heard::There(Kind::Scale, name) if name.contains("simulated"))
        );
        ask.send(Ask::Act(Act::Put, 200.0)).await.unwrap();
        let shows = |h: &Heard| match h {
            Heard::Says(Line::Shows { quantity: Quantity::Weight, value, .. }) => Some(*value),
            _ => None,
        };
        while !shows(&next(&mut heard).await).is_some_and(|g| (g - 200.0).abs() < 3.0) {}
        ask.send(Ask::Tare).await.unwrap();
        while !shows(&next(&mut heard).await).is_some_and(|g| g.abs() < 3.0) {}
    }

    /// It is called again until it is there, and says so when it has gone; what is no device is told from one.
    #[tokio::test]
    async fn a_device_that_comes_and_goes_is_told_of() {
        let first = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let address = first.local_addr().unwrap();
        drop(first);
        let (tell, mut heard) = mpsc::channel(8);
        let (_ask, asks) = mpsc::channel(8);
        tokio::spawn(follow(address.to_string(), tell, asks));
        assert!(matches!(next(&mut heard).await, Heard::Gone(_)));
        let listener = TcpListener::bind(address).await.unwrap();
        let serving =
            tokio::spawn(serve(Probe::new(vec![ProbeStep { at: 0.0, into: 24.0, warms: 0.0 }], 2), listener));
        while !matches!(next(&mut heard).await, Heard::There(Kind::Probe, _)) {}
        serving.abort();
        let _ = serving.await;
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let other = listener.local_addr().unwrap();
        tokio::spawn(async move {
            use tokio::io::AsyncWriteExt;
            let (mut stream, _) = listener.accept().await.unwrap();
            stream.write_all(b"220 mail ready\r\n").await.unwrap();
        });
        let (tell, mut heard) = mpsc::channel(8);
        let (_ask, asks) = mpsc::channel(8);
        tokio::spawn(follow(other.to_string(), tell, asks));
        assert_eq!(next(&mut heard).await, Heard::Gone("it is no device of these lines".into()));
    }
}
