//! Answers that are written while they are sent, so that large ones are never in memory as a whole.

use std::io::{self, Write};

use axum::body::{Body, Bytes};
use axum::http::{HeaderValue, header};
use axum::response::{IntoResponse, Response};
use flate2::Compression;
use flate2::write::GzEncoder;
use serde::Serialize;
use tokio::sync::mpsc;
use tokio_stream::wrappers::ReceiverStream;

use super::reply::Reply;

/// How much is sent at a time, and how many times that may wait for whoever reads it.
const CHUNK: usize = 1 << 16;
const WAITING: usize = 8;

/// Passes on what is written, a chunk at a time.
struct Chunks {
    to: mpsc::Sender<io::Result<Bytes>>,
    chunk: Vec<u8>,
}

impl Chunks {
    fn send(&mut self) -> io::Result<()> {
        let chunk = std::mem::replace(&mut self.chunk, Vec::with_capacity(CHUNK));
        // Who does not read any more needs no more of it.
        self.to.blocking_send(Ok(chunk.into())).map_err(|_| io::ErrorKind::BrokenPipe.into())
    }
}

impl Write for Chunks {
    fn write(&mut self, part: &[u8]) -> io::Result<usize> {
        self.chunk.extend_from_slice(part);
        if self.chunk.len() >= CHUNK {
            self.send()?;
        }
        Ok(part.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        if self.chunk.is_empty() { Ok(()) } else { self.send() }
    }
}

/// How much is written before anything is sent: less needs no thread of its own, for which it would wait in line.
const SHORT: usize = 1 << 18;

/// Takes what is short, and no more.
#[derive(Default)]
struct Short(Vec<u8>);

impl Write for Short {
    fn write(&mut self, part: &[u8]) -> io::Result<usize> {
        if self.0.len() + part.len() > SHORT {
            return Err(io::ErrorKind::FileTooLarge.into());
        }
        self.0.extend_from_slice(part);
        Ok(part.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

/// A resource that may be large; a short one is written at once.
pub fn resource(gzip: bool, resource: impl Serialize + Send + 'static) -> Response {
    let mut short = Short::default();
    if serde_json::to_writer(&mut short, &resource).is_ok() {
        return Reply::written(short.0).packed(gzip).into_response();
    }
    json(gzip, move |out| serde_json::to_writer(out, &resource).map_err(Into::into))
}

/// An answer as JSON, packed by gzip where that is said.
pub fn json(gzip: bool, write: impl FnOnce(&mut dyn Write) -> io::Result<()> + Send + 'static) -> Response {
    let (to, from) = mpsc::channel(WAITING);
    tokio::task::spawn_blocking(move || {
        let mut chunks = Chunks { to, chunk: Vec::with_capacity(CHUNK) };
        let written = if gzip {
            let mut packed = GzEncoder::new(&mut chunks, Compression::fast());
            write(&mut packed).and_then(|()| packed.finish().map(|_| ()))
        } else {
            write(&mut chunks)
        };
        if let Err(error) = written.and_then(|()| chunks.flush()) {
            // OK because whoever reads it is told by an answer that breaks off, or is gone.
            let _ = chunks.to.blocking_send(Err(error));
        }
    });
    let mut response = Body::from_stream(ReceiverStream::new(from)).into_response();
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_TYPE, HeaderValue::from_static("application/json"));
    headers.insert(header::VARY, HeaderValue::from_static("accept-encoding"));
    if gzip {
        headers.insert(header::CONTENT_ENCODING, HeaderValue::from_static("gzip"));
    }
    response
}

#[cfg(test)]
mod tests {
    use std::io::Read;
    use std::sync::atomic::{AtomicUsize, Ordering};
    use std::sync::{Arc, mpsc};

    use axum::http::header;
    use flate2::read::GzDecoder;
    use http_body_util::BodyExt;

    use super::{SHORT, json, resource};

    #[tokio::test]
    async fn a_resource_is_whole_whether_it_is_short_or_long() {
        for length in [10, SHORT - 2, SHORT - 1, 3 * SHORT] {
            let response = resource(false, "x".repeat(length));
            let bytes = response.into_body().collect().await.expect("all of it").to_bytes();
            assert_eq!(bytes.len(), length + 2);
        }
    }

    #[tokio::test]
    async fn what_is_written_arrives_plain_or_packed() {
        let text: String = (0..100_000).map(|number| format!("{number},")).collect();
        for gzip in [false, true] {
            let sent = text.clone();
            let response = json(gzip, move |out| sent.as_bytes().chunks(777).try_for_each(|part| out.write_all(part)));
            assert_eq!(response.headers().contains_key(header::CONTENT_ENCODING), gzip);
            let bytes = response.into_body().collect().await.expect("all of it").to_bytes();
            let mut arrived = String::new();
            let read = if gzip {
                GzDecoder::new(&bytes[..]).read_to_string(&mut arrived)
            } else {
                (&bytes[..]).read_to_string(&mut arrived)
            };
            assert!(read.is_ok() && arrived == text);
        }
    }

    #[tokio::test]
    async fn little_is_ahead_of_a_reader_and_nothing_is_written_for_one_who_is_gone() {
        let written = Arc::new(AtomicUsize::new(0));
        let (count, (over, is_over)) = (written.clone(), mpsc::channel());
        let response = json(false, move |out| {
            let all = (0..10_000).try_for_each(|_| {
                out.write_all(&[b' '; 4096])?;
                count.fetch_add(4096, Ordering::Relaxed);
                Ok(())
            });
            // OK because the test may have failed meanwhile.
            let _ = over.send(all.is_err());
            all
        });
        let mut body = response.into_body();
        for _ in 0..3 {
            body.frame().await.expect("a part").expect("a part");
        }
        drop(body);
        let broke_off = tokio::task::spawn_blocking(move || is_over.recv()).await.expect("told").expect("told");
        assert!(broke_off && written.load(Ordering::Relaxed) < 2 << 20, "{}", written.load(Ordering::Relaxed));
    }
}
