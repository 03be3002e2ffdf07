//! Reading footage: from slices that a browser sends, or from the media folder of this machine.

use axum::extract::State;
use ratiomet_exchange::list::{ListReading, Looked, of_files};
use ratiomet_media::{Failure, sequence};
use ratiomet_wire::describe::{List, Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::{Bytes, Text, Whole};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{LongBody, Query, Slices};
use crate::server::{App, off_threads};

/// The most files that one request looks at.
const MOST_FILES: usize = 1000;
/// The most files of which the sequences are told apart.
const MOST_NAMES: usize = 20_000;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(slices))
        .routes(routes!(sequences))
        .routes(routes!(folder))
        .routes(routes!(files))
}

/// The name or the path of a file.
type FileName = Text<100_000>;

/// A file of which slices are sent.
struct Sent {
    name: String,
    length: u64,
    slices: String,
    line: u32,
}

record!(
    /// A file of which slices are sent.
    "SentFile", "queries" for Sent {
        /// The name of the file.
        name: FileName = Required, |sent| Text(sent.name.clone());
        /// How many bytes it has.
        length: Bytes = Required, |sent| Bytes(sent.length);
        /// First byte and length of each slice.
        slices: FileName = Default("\"\""), |sent| Text(sent.slices.clone());
        /// The number of the row.
        line: Whole<0, { u32::MAX }> = Default("1"), |sent| Whole::new(sent.line);
    }
    |name, length, slices, line| Ok(Sent { name: name.0, length: length.0, slices: slices.0, line: line.get() })
);

/// What came of slices: one of the two.
#[derive(Serialize, ToSchema)]
struct Probed {
    /// A further slice that is needed, as first byte and length; to be sent along with the others.
    #[schema(required)]
    needs: Option<[u64; 2]>,
    /// What the file says, as a list of one row.
    #[schema(required)]
    reading: Option<ListReading>,
}

/// What the header of a file says, by slices of it
///
/// The body holds slices of the file, one after the other. Begin with its first 64 KiB; as long as
/// `needs` names a further slice, send all of them again with that one added. A file of many gigabytes
/// needs a few. What cannot be read is a row with the reason.
#[utoipa::path(
    post,
    path = "/probe",
    tag = "footage",
    params(
        ("name" = String, Query, description = "The name of the file"),
        ("length" = u64, Query, description = "How many bytes it has"),
        ("slices" = String, Query, description = "First byte and length of each slice in the body, such as 0:65536,1990000:4096"),
        ("line" = Option<u32>, Query, description = "The number of the row, 1 when left out"),
    ),
    request_body(content = Vec<u8>, content_type = "application/octet-stream", description = "The slices"),
    responses(
        (status = 200, body = Probed),
        (status = 422, description = "Slices that are not those of the body", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn slices(Query(sent): Query<Sent>, Slices(body): Slices) -> Result<Reply, Refusal> {
    off_threads(move || {
        let refuse = || {
            Refusal::field("/slices", "first byte and length of each slice in the body, such as 0:65536,1990000:4096")
        };
        let mut parts = Vec::new();
        let mut rest = &body[..];
        for slice in sent.slices.split(',').filter(|slice| !slice.is_empty()) {
            let (at, length) = slice.split_once(':').ok_or_else(refuse)?;
            let (at, length): (u64, usize) = at.parse().ok().zip(length.parse().ok()).ok_or_else(refuse)?;
            let (part, later) = rest.split_at_checked(length).ok_or_else(refuse)?;
            if at.checked_add(length as u64).is_none_or(|end| end > sent.length) {
                return Err(refuse());
            }
            parts.push((at, part.to_vec()));
            rest = later;
        }
        if !rest.is_empty() {
            return Err(refuse());
        }
        let reading = ratiomet_media::read(&ratiomet_media::Slices::new(sent.length, parts));
        Ok(Reply::json(&match reading {
            Err(Failure::Needs(at, length)) => Probed { needs: Some([at, length]), reading: None },
            reading => {
                let file = Looked { name: &sent.name, reading: &reading };
                Probed { needs: None, reading: Some(of_files(&[file], sent.line)) }
            }
        }))
    })
    .await
}

/// Names of files.
struct Names(Vec<String>);

record!(
    /// Names of files.
    "FileNames", "names" for Names {
        /// The names.
        files: List<FileName, 0, MOST_NAMES> = Required, |names| List(names.0.iter().cloned().map(Text).collect());
    }
    |files| Ok(Names(files.0.into_iter().map(|file| file.0).collect()))
);

type FileNames = Values<Names>;

/// A clip: one file, or the stills of a sequence.
#[derive(Serialize, ToSchema)]
struct ClipEntry {
    /// The file, or the first of the sequence.
    first: String,
    /// What it is called.
    name: String,
    /// How many files it has.
    count: usize,
}

impl From<sequence::Clip> for ClipEntry {
    fn from(clip: sequence::Clip) -> Self {
        Self { first: clip.first, name: clip.name, count: clip.count }
    }
}

/// Clips.
#[derive(Serialize, ToSchema)]
struct Clips {
    /// In the order of their first files.
    clips: Vec<ClipEntry>,
}

/// Which files are stills of one sequence
#[utoipa::path(
    post,
    path = "/probe/clips",
    tag = "footage",
    request_body = FileNames,
    responses(
        (status = 200, body = Clips),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn sequences(LongBody(Names(files)): LongBody<Names>) -> Result<Reply, Refusal> {
    off_threads(move || {
        let clips = sequence::clips(&files).into_iter().map(Into::into).collect();
        Ok(Reply::json(&Clips { clips }))
    })
    .await
}

/// Where to look.
struct Where {
    folder: String,
}

record!(
    /// Where to look.
    "MediaQuery", "queries" for Where {
        /// A folder below; the media folder itself when left out.
        folder: FileName = Default("\"\""), |place| Text(place.folder.clone());
    }
    |folder| Ok(Where { folder: folder.0 })
);

/// What is in a folder of the media folder.
#[derive(Serialize, ToSchema)]
struct FolderListing {
    /// Whether the server was started with a media folder; without one nothing is listed.
    available: bool,
    /// The folders in it.
    folders: Vec<String>,
    /// The clips in it: files, and stills of a sequence together. Their paths start at the media folder.
    clips: Vec<ClipEntry>,
    /// How many more entries there are than are listed.
    left_out: usize,
}

/// What is in the media folder, or in a folder below it
///
/// There is one when the server was started with `--media`.
#[utoipa::path(
    get,
    path = "/media",
    tag = "footage",
    params(("folder" = Option<String>, Query, description = "A folder below, such as day1/cam_a; the media folder itself when left out")),
    responses(
        (status = 200, body = FolderListing),
        (status = 404, description = "No such folder in it", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn folder(State(app): State<App>, Query(Where { folder }): Query<Where>) -> Result<Reply, Refusal> {
    let Some(media) = app.media.clone() else {
        let nothing = FolderListing { available: false, folders: Vec::new(), clips: Vec::new(), left_out: 0 };
        return Ok(Reply::json(&nothing));
    };
    off_threads(move || {
        let listing = media.list(&folder).map_err(|error| no_folder(&folder, &error))?;
        let path = |file: &String| if folder.is_empty() { file.clone() } else { format!("{folder}/{file}") };
        let paths: Vec<String> = listing.files.iter().map(path).collect();
        Ok(Reply::json(&FolderListing {
            available: true,
            folders: listing.folders,
            clips: sequence::clips(&paths).into_iter().map(Into::into).collect(),
            left_out: listing.left_out,
        }))
    })
    .await
}

/// A clip of the media folder.
#[derive(Clone)]
struct Clip {
    first: String,
    name: Option<String>,
}

record!(
    /// A clip of the media folder.
    "ClipName", "clips" for Clip {
        /// The file, or the first of a sequence; its path starts at the media folder.
        first: FileName = Required, |clip| Text(clip.first.clone());
        /// What it is called; as the file when left out.
        name: Option<FileName> = Default("null"), |clip| clip.name.clone().map(Text);
    }
    |first, name| Ok(Clip { first: first.0, name: name.map(|name| name.0) })
);

/// Clips of the media folder.
struct WantedClips(Vec<Clip>);

record!(
    /// Clips of the media folder.
    "ClipNames", "lists of clips" for WantedClips {
        /// The clips.
        clips: List<Clip, 0, MOST_FILES> = Required, |wanted| List(wanted.0.clone());
    }
    |clips| Ok(WantedClips(clips.0))
);

type ClipNames = Values<WantedClips>;

/// What the headers of clips in the media folder say
///
/// At most 1,000 at once; what cannot be read is a row with the reason, and hides no other.
#[utoipa::path(
    post,
    path = "/media/probe",
    tag = "footage",
    request_body = ClipNames,
    responses(
        (status = 200, body = ListReading),
        (status = 404, description = "No media folder", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "Every bad field", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn files(State(app): State<App>, LongBody(WantedClips(clips)): LongBody<WantedClips>) -> Result<Reply, Refusal> {
    let media = app.media.clone().ok_or_else(no_media)?;
    off_threads(move || {
        let readings: Vec<_> = clips.iter().map(|clip| media.read(&clip.first)).collect();
        let looked: Vec<_> = clips
            .iter()
            .zip(&readings)
            .map(|(clip, reading)| Looked { name: clip.name.as_deref().unwrap_or(&clip.first), reading })
            .collect();
        Ok(Reply::json(&of_files(&looked, 1)))
    })
    .await
}

pub(super) fn no_media() -> Refusal {
    Problem::new(
        404,
        "no_media",
        "This server has no media folder",
        "It was started without one.",
        "Start it with --media DIR, or drop files onto the page.",
    )
    .into()
}

fn no_folder(folder: &str, error: &std::io::Error) -> Refusal {
    Problem::new(
        404,
        "no_folder",
        "There is no such folder in the media folder",
        format!("{folder:?} cannot be listed: {error}."),
        "GET /api/v1/media lists the folders that there are.",
    )
    .into()
}
