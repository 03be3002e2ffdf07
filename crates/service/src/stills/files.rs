//! [`Files`]: stills beside the data file, each called by its content.

use std::fs::{self, File};
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::time::{Duration, SystemTime};

use ratiomet_core::project::Content;
use sha2::{Digest, Sha256};

use super::Refused;

/// How long a file that no history needs is kept: one that is just being added is among them.
const KEPT: Duration = Duration::from_secs(24 * 3_600);

/// The files of the stills of a data file.
pub struct Files {
    folder: PathBuf,
    /// Where they were kept before.
    before: PathBuf,
}

impl Files {
    /// Those of a data file: in `data.db.stills` beside it, since there may be another file `data` beside it too.
    pub fn beside(data: &Path) -> Self {
        let mut folder = data.as_os_str().to_owned();
        folder.push(".stills");
        // The first versions left the ending out; nothing is taken away there.
        Self { folder: folder.into(), before: data.with_extension("stills") }
    }

    /// Where they are.
    pub fn folder(&self) -> std::path::Display<'_> {
        self.folder.display()
    }

    fn place(&self, content: Content) -> PathBuf {
        let [place, before] = [&self.folder, &self.before].map(|folder| folder.join(content.to_string()));
        if !place.exists() && before.exists() { before } else { place }
    }

    /// Keeps a file, and tells what it is called from now on.
    pub fn keep(&self, bytes: &[u8]) -> io::Result<Content> {
        let content = Content::new(Sha256::digest(bytes).into());
        self.take(content, &mut &*bytes)?;
        Ok(content)
    }

    /// Puts a file with this content there, written whole before anything refers to it.
    pub fn take(&self, content: Content, bytes: &mut dyn Read) -> io::Result<()> {
        let place = self.folder.join(content.to_string());
        if place.exists() {
            return Ok(());
        }
        fs::create_dir_all(&self.folder)?;
        let beside = self.folder.join(format!("{content}.{}.part", std::process::id()));
        let written = File::create(&beside).and_then(|mut file| {
            io::copy(bytes, &mut file)?;
            file.sync_all()
        });
        written.and_then(|()| fs::rename(&beside, &place)).inspect_err(|_| {
            // OK because it may not have been made at all.
            let _ = fs::remove_file(&beside);
        })
    }

    /// Puts a file there under a further name of one that is kept elsewhere on the same disk.
    pub fn link(&self, content: Content, from: &Self) -> io::Result<()> {
        let place = self.folder.join(content.to_string());
        if place.exists() {
            return Ok(());
        }
        fs::create_dir_all(&self.folder)?;
        fs::hard_link(from.place(content), place)
    }

    /// That a still is there and is what its name says.
    pub fn verify(&self, content: Content) -> Result<(), Refused> {
        let mut file = self.open(content)?;
        let mut hash = Sha256::new();
        io::copy(&mut file, &mut hash).map_err(|error| format!("the still {content} cannot be read: {error}"))?;
        if Content::new(hash.finalize().into()) == content {
            Ok(())
        } else {
            Err(format!("the still {content} has another content"))
        }
    }

    /// Opens a still that is kept, by its content.
    pub fn open(&self, content: Content) -> Result<File, Refused> {
        File::open(self.place(content))
            .map_err(|error| format!("the still {content} is no longer in {}: {error}", self.folder.display()))
    }

    /// All of one that is kept.
    pub fn read(&self, content: Content) -> io::Result<Vec<u8>> {
        fs::read(self.place(content))
    }

    /// Takes away files that nothing refers to, a day after they came.
    pub fn collect(&self, is_used: impl Fn(Content) -> bool) -> io::Result<usize> {
        let files = match fs::read_dir(&self.folder) {
            Ok(files) => files,
            Err(error) if error.kind() == io::ErrorKind::NotFound => return Ok(0),
            Err(error) => return Err(error),
        };
        let mut taken = 0;
        for file in files {
            let file = file?;
            let name = file.file_name();
            // Files of others are left alone, but for what a write that broke off has left.
            let name = name.to_string_lossy();
            let used = match Content::parse(name.split('.').next().unwrap_or_default()) {
                Some(content) => !name.ends_with(".part") && is_used(content),
                None => true,
            };
            let age = SystemTime::now().duration_since(file.metadata()?.modified()?).unwrap_or_default();
            if !used && age > KEPT {
                fs::remove_file(file.path())?;
                taken += 1;
            }
        }
        Ok(taken)
    }
}
