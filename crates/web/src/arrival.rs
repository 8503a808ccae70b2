//! What is sent has to arrive in time, whatever it is: a body that drips would keep its connection for ever.

use std::future::Future;
use std::path::{Path, PathBuf};
use std::pin::Pin;
use std::task::{Context, Poll};
use std::time::Duration;

use actix_web::body::MessageBody;
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::PayloadError;
use actix_web::http::header;
use actix_web::middleware::Next;
use actix_web::rt::time::{Sleep, sleep};
use actix_web::{Error, HttpMessage, web};
use tokio::sync::mpsc;
use tokio_stream::{Stream, StreamExt};

use crate::error::{PageError, blocking};

/// How long any body may take to arrive.
const WITHIN: Duration = Duration::from_secs(15);
/// How quickly a large one has to arrive beside that, bytes a second: a phone at the far end of a house does five times as
/// much. Common practice, no source.
const LEAST_RATE: u64 = 50_000;

/// A body that breaks off when its time is over.
struct Timed {
    body: Payload,
    over: Pin<Box<Sleep>>,
}

impl Stream for Timed {
    type Item = Result<web::Bytes, PayloadError>;

    fn poll_next(mut self: Pin<&mut Self>, cx: &mut Context<'_>) -> Poll<Option<Self::Item>> {
        if self.over.as_mut().poll(cx).is_ready() {
            return Poll::Ready(Some(Err(PayloadError::Incomplete(None))));
        }
        Pin::new(&mut self.body).poll_next(cx)
    }
}

/// Gives each body as long as its length needs, and no longer.
///
/// # Errors
/// What the handler reports.
pub async fn in_time<B: MessageBody + 'static>(
    mut request: ServiceRequest,
    next: Next<B>,
) -> Result<ServiceResponse<B>, Error> {
    let length =
        request.headers().get(header::CONTENT_LENGTH).and_then(|v| v.to_str().ok()?.parse::<u64>().ok());
    let within = WITHIN + Duration::from_secs(length.unwrap_or(0) / LEAST_RATE);
    let timed = Timed { body: request.take_payload(), over: Box::pin(sleep(within)) };
    request.set_payload(Payload::Stream { payload: Box::pin(timed) });
    next.call(request).await
}

/// A file that was received; it goes with this value.
pub struct Received(PathBuf);

impl Received {
    /// Where it is.
    pub fn path(&self) -> &Path {
        &self.0
    }
}

impl Drop for Received {
    fn drop(&mut self) {
        let _ = std::fs::remove_file(&self.0);
    }
}

/// Writes a body into a file as it arrives, up to so many bytes.
///
/// # Errors
/// [`PageError::TooLarge`], [`PageError::Slow`] where it breaks off, or what the disk reports.
pub async fn into_file(mut body: web::Payload, file: PathBuf, most: u64) -> Result<Received, PageError> {
    let received = Received(file.clone());
    let (pass, mut passed) = mpsc::channel::<web::Bytes>(16);
    let writing = actix_web::rt::spawn(blocking(move || {
        use std::io::Write;
        let unwritable =
            |e: std::io::Error| cerealis_store::StoreError::Unwritable(file.clone(), e.to_string());
        let mut out = cerealis_store::create_private(&file).map_err(unwritable)?;
        while let Some(part) = passed.blocking_recv() {
            out.write_all(&part).map_err(unwritable)?;
        }
        Ok(())
    }));
    let mut bytes = 0u64;
    let mut broke = None;
    while let Some(part) = body.next().await {
        let Ok(part) = part else {
            broke = Some(PageError::Slow);
            break;
        };
        bytes += part.len() as u64;
        if bytes > most {
            broke = Some(PageError::TooLarge(usize::try_from(most / 1024).unwrap_or(usize::MAX)));
            break;
        }
        // The disk is full: what it says comes with the end of the writing.
        if pass.send(part).await.is_err() {
            break;
        }
    }
    drop(pass);
    let written = writing.await.map_err(|_| PageError::Slow)?;
    match broke {
        Some(why) => Err(why),
        None => written.map(|()| received),
    }
}
