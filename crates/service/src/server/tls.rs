//! TLS by files of certificates, which are read again when they have changed.

use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant, SystemTime};

use tokio_rustls::TlsAcceptor;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::crypto::ring;
use tokio_rustls::rustls::pki_types::pem::PemObject;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivateKeyDer};

/// How often it is looked whether the files have changed.
const LOOKED_EVERY: Duration = Duration::from_secs(60);

/// The files, and what was read from them.
pub struct Tls {
    certificate: PathBuf,
    key: PathBuf,
    read: Mutex<Read>,
}

struct Read {
    acceptor: TlsAcceptor,
    changed: Option<SystemTime>,
    looked: Instant,
}

fn changed(certificate: &Path) -> Option<SystemTime> {
    std::fs::metadata(certificate).and_then(|about| about.modified()).ok()
}

fn acceptor(certificate: &Path, key: &Path) -> Result<TlsAcceptor, String> {
    let failed = |path: &Path, why: &dyn std::fmt::Display| {
        format!(
            "{} cannot be used for TLS: {why}; it must be a PEM file, as certificate authorities give it",
            path.display()
        )
    };
    let chain = CertificateDer::pem_file_iter(certificate).and_then(Iterator::collect::<Result<Vec<_>, _>>);
    let chain = chain.map_err(|error| failed(certificate, &error))?;
    if chain.is_empty() {
        return Err(failed(certificate, &"there is no certificate in it"));
    }
    let secret = PrivateKeyDer::from_pem_file(key).map_err(|error| failed(key, &error))?;
    let config = ServerConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()
        .and_then(|config| config.with_no_client_auth().with_single_cert(chain, secret))
        .map_err(|error| failed(certificate, &error))?;
    Ok(TlsAcceptor::from(Arc::new(config)))
}

impl Tls {
    /// Reads the files.
    ///
    /// # Errors
    /// A sentence that names the one that is wrong.
    pub fn open(certificate: PathBuf, key: PathBuf) -> Result<Self, String> {
        let changed = changed(&certificate);
        let acceptor = acceptor(&certificate, &key)?;
        Ok(Self { certificate, key, read: Mutex::new(Read { acceptor, changed, looked: Instant::now() }) })
    }

    /// What takes a connection in. New files that cannot be used are told of, and those before stay.
    pub fn acceptor(&self) -> TlsAcceptor {
        let mut read = self.read.lock().unwrap_or_else(PoisonError::into_inner);
        if read.looked.elapsed() > LOOKED_EVERY {
            read.looked = Instant::now();
            let changed = changed(&self.certificate);
            if changed != read.changed {
                read.changed = changed;
                match acceptor(&self.certificate, &self.key) {
                    Ok(acceptor) => read.acceptor = acceptor,
                    Err(why) => tracing::error!("{why}; the certificate before is used on"),
                }
            }
        }
        read.acceptor.clone()
    }
}
