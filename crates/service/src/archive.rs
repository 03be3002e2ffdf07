//! [`Archive`]: a ZIP file on disk that waits to be fetched.

use std::fs::File;
use std::io::{BufWriter, Write};
use std::sync::Arc;

use axum::body::Body;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use tempfile::NamedTempFile;
use tokio_util::io::ReaderStream;

use crate::download::disposition;
use crate::jobs::Outcome;

/// An archive on disk, taken away with the last of its handles.
#[derive(Clone, Debug)]
pub struct Archive {
    file: Arc<NamedTempFile>,
    /// Its length.
    pub bytes: u64,
}

impl Archive {
    /// Writes one.
    ///
    /// # Errors
    /// A sentence of the work, or one that says where there is no room.
    pub fn of(write: impl FnOnce(&mut BufWriter<&File>) -> Result<(), String>) -> Outcome<Self> {
        let failed = |error: std::io::Error| {
            let folder = std::env::temp_dir();
            format!("the archive cannot be written in {}: {error}; make room there, or set TMPDIR", folder.display())
        };
        let file = tempfile::Builder::new().prefix("ratiomet-").suffix(".zip").tempfile().map_err(failed)?;
        let mut out = BufWriter::new(file.as_file());
        write(&mut out)?;
        out.flush().map_err(failed)?;
        drop(out);
        let bytes = file.as_file().metadata().map_err(failed)?.len();
        Ok(Self { file: Arc::new(file), bytes })
    }

    /// The archive as an answer that is sent as it is read.
    pub fn into_response(self, name: &str) -> std::io::Result<Response> {
        let headers = [
            (header::CONTENT_TYPE, "application/zip".to_owned()),
            (header::CONTENT_DISPOSITION, disposition(name)),
            (header::CONTENT_LENGTH, self.bytes.to_string()),
        ];
        let stream = ReaderStream::new(tokio::fs::File::from_std(self.file.reopen()?));
        Ok((headers, Body::from_stream(stream)).into_response())
    }
}
