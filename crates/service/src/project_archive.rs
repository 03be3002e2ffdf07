//! A project with its stills in one ZIP file: `project.json`, and the stills by their content in `stills/`.

use std::collections::BTreeMap;
use std::io::{Cursor, Read, Write};

use ratiomet_core::project::{Content, Project};
use ratiomet_exchange::project_file;
use ratiomet_picture::limits::MOST_BYTES;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, DateTime, ZipArchive, ZipWriter};

use crate::archive::Archive;
use crate::stills::Stills;

const PROJECT: &str = "project.json";
const STILLS: &str = "stills/";
/// The most bytes of the file of the project, and the most stills.
const MOST_TEXT: u64 = 64 << 20;
const MOST_STILLS: usize = 10_000;

/// The stills that a project shows.
fn contents(project: &Project) -> BTreeMap<String, Content> {
    let stills = project.sources().flat_map(|(_, footage)| footage.stills());
    stills.map(|file| (file.content.to_string(), file.content)).collect()
}

/// Writes a project with its stills.
///
/// # Errors
/// A sentence when a still is no longer there, or the archive cannot be written.
pub fn write(project: &Project, stills: &Stills) -> Result<Archive, String> {
    let failed = |error: &dyn std::fmt::Display| format!("the archive cannot be made: {error}");
    Archive::of(|out| {
        let mut archive = ZipWriter::new(out);
        let options = SimpleFileOptions::default().last_modified_time(DateTime::default()).unix_permissions(0o644);
        let packed = options.compression_method(CompressionMethod::Deflated);
        archive.start_file(PROJECT, packed).map_err(|error| failed(&error))?;
        archive.write_all(project_file::write(project).as_bytes()).map_err(|error| failed(&error))?;
        for (name, content) in contents(project) {
            // Pictures are packed already.
            let plain = options.compression_method(CompressionMethod::Stored);
            archive.start_file(format!("{STILLS}{name}"), plain).map_err(|error| failed(&error))?;
            let mut file = stills.files.open(content)?;
            std::io::copy(&mut file, &mut archive).map_err(|error| failed(&error))?;
        }
        archive.finish().map(drop).map_err(|error| failed(&error))
    })
}

/// Reads such a file: the text of the project, and its stills, which are kept from then on. Whatever else lies in it is
/// passed by.
///
/// # Errors
/// A sentence when it is none.
pub fn read(bytes: &[u8], stills: &Stills) -> Result<Vec<u8>, String> {
    let damaged = |error: &dyn std::fmt::Display| format!("this is no archive of a project: {error}");
    let mut archive = ZipArchive::new(Cursor::new(bytes)).map_err(|error| damaged(&error))?;
    let mut text = Vec::new();
    let project = archive.by_name(PROJECT).map_err(|_| format!("there is no {PROJECT} in the archive"))?;
    project.take(MOST_TEXT + 1).read_to_end(&mut text).map_err(|error| damaged(&error))?;
    if text.len() as u64 > MOST_TEXT {
        return Err(format!("the {PROJECT} in it has more than {} MB", MOST_TEXT >> 20));
    }
    let names: Vec<String> = archive
        .file_names()
        .filter_map(|name| name.ok().map(|name| name.into_owned()).filter(|name| name.starts_with(STILLS)))
        .collect();
    if names.len() > MOST_STILLS {
        return Err(format!("it holds more than {MOST_STILLS} stills"));
    }
    for name in names {
        let Some(content) = Content::parse(&name[STILLS.len()..]) else { continue };
        let mut still = Vec::new();
        let packed = archive.by_name(&name).map_err(|error| damaged(&error))?;
        packed.take(MOST_BYTES + 1).read_to_end(&mut still).map_err(|error| damaged(&error))?;
        let (kept, ..) = stills.keep(&still).map_err(|why| format!("the still {name} in it: {why}"))?;
        if kept != content {
            return Err(format!("the still {name} in it is another one than its name says"));
        }
    }
    Ok(text)
}
