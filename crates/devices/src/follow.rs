//! Listening to a device: greeted, then told what it shows; where it goes, it is called again, less and less often.

use std::net::SocketAddr;
use std::time::Duration;

use futures_util::SinkExt;
use tokio::net::TcpStream;
use tokio::sync::mpsc;
use tokio::time::{Instant, MissedTickBehavior, interval, sleep, timeout, timeout_at};
use tokio_stream::StreamExt;
use tokio_util::codec::{Framed, LinesCodec};

use crate::protocol::{Ask, Kind, LINE_MAX, Line, VERSION};

/// The first pause before a device that is gone is called again, and the longest.
const PAUSES: (Duration, Duration) = (Duration::from_millis(250), Duration::from_secs(15));
/// How long a device may take to be there, and to say who it is.
const PATIENCE: Duration = Duration::from_secs(3);
/// How often what a device shows is passed on: a scale of a kitchen shows ten figures a second.
const PASSES: Duration = Duration::from_millis(50);
/// So many lines a second are no device of a kitchen.
const FLOOD: u64 = 5000;
/// A device that says nothing for so long is gone.
const SILENCE: Duration = Duration::from_secs(4);

/// What is heard of a device.
#[derive(Clone, Debug, PartialEq)]
pub enum Heard {
    /// It is there, under its name.
    There(Kind, String),
    /// What it says; of what it shows, the last figure of each short while.
    Says(Line),
    /// How many figures were left out, for they came too quickly.
    LeftOut(u64),
    /// It is gone, and why.
    Gone(String),
}

/// Listens to the device at an address until nobody wants to hear of it; what it is asked goes to it while it is there.
pub async fn follow(address: SocketAddr, heard: mpsc::Sender<Heard>, mut asks: mpsc::Receiver<Ask>) {
    let mut pause = PAUSES.0;
    loop {
        let why = match timeout(PATIENCE, TcpStream::connect(address)).await {
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
    // What it shows is passed on a few times a second: the last figure, and how many were left out.
    let mut pass = interval(PASSES);
    pass.set_missed_tick_behavior(MissedTickBehavior::Skip);
    let (mut last, mut left_out): (Option<Line>, u64) = (None, 0);
    let mut second = (Instant::now(), 0u64);
    let mut heard_at = Instant::now();
    loop {
        tokio::select! {
            said = timeout_at(heard_at + SILENCE, lines.next()) => match said {
                Err(_) => return (true, "it says nothing any more".into()),
                Ok(None) => return (true, "it has gone".into()),
                Ok(Some(Err(e))) => return (true, e.to_string()),
                Ok(Some(Ok(line))) => {
                    heard_at = Instant::now();
                    if second.0.elapsed() >= Duration::from_secs(1) {
                        second = (Instant::now(), 0);
                    }
                    second.1 += 1;
                    if second.1 > FLOOD {
                        return (true, format!("it sends more than {FLOOD} lines a second"));
                    }
                    // What does not read is passed over: the next line may.
                    let Ok(Some(line)) = Line::parse(&line) else { continue };
                    if matches!(line, Line::Shows { .. }) {
                        left_out += u64::from(last.replace(line).is_some());
                    } else if heard.send(Heard::Says(line)).await.is_err() {
                        return (true, String::new());
                    }
                }
            },
            _ = pass.tick() => {
                if left_out > 0 && heard.send(Heard::LeftOut(std::mem::take(&mut left_out))).await.is_err() {
                    return (true, String::new());
                }
                if let Some(line) = last.take()
                    && heard.send(Heard::Says(line)).await.is_err()
                {
                    return (true, String::new());
                }
            }
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
        let address = listener.local_addr().unwrap();
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
        tokio::spawn(follow(address, tell, asks));
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
        tokio::spawn(follow(other, tell, asks));
        assert_eq!(next(&mut heard).await, Heard::Gone("it is no device of these lines".into()));
    }

    /// A device that floods is heard with its last figure, at once, and it is told how many were left out.
    #[tokio::test]
    async fn of_a_flood_the_last_figure_is_heard() {
        use tokio::io::AsyncWriteExt;
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let address = listener.local_addr().unwrap();
        tokio::spawn(async move {
            let (mut stream, _) = listener.accept().await.unwrap();
            let greeting = Line::Greeting { version: VERSION, kind: Kind::Scale, name: "flood".into() };
            stream.write_all(format!("{greeting}\n").as_bytes()).await.unwrap();
            let shows = |value: f64| Line::Shows { quantity: Quantity::Weight, value, stable: true };
            let all: String = (0..4000).map(|n| format!("{}\n", shows(f64::from(n)))).collect();
            stream.write_all(all.as_bytes()).await.unwrap();
            sleep(Duration::from_secs(5)).await;
        });
        let (tell, mut heard) = mpsc::channel(8);
        let (_ask, asks) = mpsc::channel(8);
        let began = Instant::now();
        tokio::spawn(follow(address, tell, asks));
        let (mut shown, mut left_out) = (0, 0);
        loop {
            match next(&mut heard).await {
                Heard::Says(Line::Shows { value, .. }) => {
                    shown += 1;
                    if value == 3999.0 {
                        break;
                    }
                }
                Heard::LeftOut(n) => left_out += n,
                Heard::There(..) => {}
                other => panic!("{other:?}"),
            }
            // Slower than it sends.
            sleep(Duration::from_millis(10)).await;
        }
        assert_eq!(shown + left_out, 4000);
        assert!(shown < 60, "{shown} in {:?}", began.elapsed());
    }
}
