//! Reading footage: from slices that a browser sends, or from the media folder of this machine.

use axum::Json;
use axum::body::Bytes;
use axum::extract::{DefaultBodyLimit, Query, State};
use ratiomet_media::{Failure, Slices, sequence};
use ratiomet_wire::list::{ListReading, Looked, of_files};
use ratiomet_wire::problem::{FieldError, Problem};
use ratiomet_wire::read::Field;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::{OpenApiRouter, UtoipaMethodRouterExt};
use utoipa_axum::routes;

use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::request::Body;

/// The most files that one request looks at.
const MOST_FILES: usize = 1000;
/// The most bytes of slices that one request holds.
const MOST_BYTES: usize = 24 << 20;

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(slices).layer(DefaultBodyLimit::max(MOST_BYTES)))
        .routes(routes!(sequences))
        .routes(routes!(folder))
        .routes(routes!(files))
}

/// A file of which slices are sent.
#[derive(Deserialize)]
struct Sent {
    name: String,
    length: u64,
    #[serde(default)]
    slices: String,
    #[serde(default)]
    line: Option<u32>,
}

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
async fn slices(Query(sent): Query<Sent>, body: Bytes) -> Result<Json<Probed>, Refusal> {
    let refuse = || {
        let detail = "first byte and length of each slice in the body, such as 0:65536,1990000:4096".to_owned();
        Refusal::from(Problem::fields(vec![FieldError { pointer: "/slices".to_owned(), detail }]))
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
    let reading = ratiomet_media::read(&Slices::new(sent.length, parts));
    Ok(Json(match reading {
        Err(Failure::Needs(at, length)) => Probed { needs: Some([at, length]), reading: None },
        reading => {
            let file = Looked { name: &sent.name, reading: &reading };
            Probed { needs: None, reading: Some(of_files(&[file], sent.line.unwrap_or(1))) }
        }
    }))
}

/// Names of files.
#[derive(Serialize, ToSchema)]
struct FileNames {
    /// At most 20,000.
    files: Vec<String>,
}

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

fn names(field: &Field<'_>, most: usize) -> Option<Vec<String>> {
    let object = field.object()?;
    let files = object.required("files", |field| {
        let accepted = format!("an array of at most {most} names of files");
        let files = field.array(&accepted)?;
        if files.len() > most {
            return field.refuse(accepted);
        }
        files.iter().map(|file| file.string("the name of a file").map(|name| name.into_owned())).collect()
    });
    object.done()?;
    files
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
async fn sequences(body: crate::server::request::LongBody) -> Result<Json<Clips>, Refusal> {
    let files = body.read(|field| names(field, 20_000))?;
    Ok(Json(Clips { clips: sequence::clips(&files).into_iter().map(Into::into).collect() }))
}

/// Where to look.
#[derive(Deserialize)]
struct Where {
    #[serde(default)]
    folder: String,
}

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
async fn folder(State(app): State<App>, Query(Where { folder }): Query<Where>) -> Result<Json<FolderListing>, Refusal> {
    let Some(media) = app.media.clone() else {
        return Ok(Json(FolderListing { available: false, folders: Vec::new(), clips: Vec::new(), left_out: 0 }));
    };
    let below = folder.clone();
    let listing = tokio::task::spawn_blocking(move || media.list(&below)).await.map_err(|_| Refusal::internal())?;
    let listing = listing.map_err(|error| no_folder(&folder, &error))?;
    let paths: Vec<String> = listing
        .files
        .iter()
        .map(|file| if folder.is_empty() { file.clone() } else { format!("{folder}/{file}") })
        .collect();
    Ok(Json(FolderListing {
        available: true,
        folders: listing.folders,
        clips: sequence::clips(&paths).into_iter().map(Into::into).collect(),
        left_out: listing.left_out,
    }))
}

/// Clips of the media folder.
#[derive(Serialize, ToSchema)]
struct ClipNames {
    /// At most 1,000.
    clips: Vec<ClipName>,
}

/// A clip of the media folder.
#[derive(Serialize, ToSchema)]
struct ClipName {
    /// The file, or the first of a sequence; its path starts at the media folder.
    first: String,
    /// What it is called; as the file when left out.
    #[schema(required = false)]
    name: Option<String>,
}

fn read_clips(field: &Field<'_>) -> Option<Vec<ClipName>> {
    let object = field.object()?;
    let clips = object.required("clips", |field| {
        let accepted = format!("an array of at most {MOST_FILES} clips");
        let clips = field.array(&accepted)?;
        if clips.len() > MOST_FILES {
            return field.refuse(accepted);
        }
        let text = |field: &Field<'_>| field.string("the path of a file").map(|text| text.into_owned());
        let clip = |field: &Field<'_>| {
            let object = field.object()?;
            let first = object.required("first", text);
            let name = object.nullable("name", text);
            object.done()?;
            Some(ClipName { first: first?, name: name? })
        };
        clips.iter().map(clip).collect::<Vec<_>>().into_iter().collect()
    });
    object.done()?;
    clips
}

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
async fn files(State(app): State<App>, body: Body) -> Result<Json<ListReading>, Refusal> {
    let media = app.media.clone().ok_or_else(no_media)?;
    let clips = body.read(read_clips)?;
    let read = tokio::task::spawn_blocking(move || {
        let readings: Vec<_> = clips.iter().map(|clip| media.read(&clip.first)).collect();
        let looked: Vec<_> = clips
            .iter()
            .zip(&readings)
            .map(|(clip, reading)| Looked { name: clip.name.as_deref().unwrap_or(&clip.first), reading })
            .collect();
        of_files(&looked, 1)
    });
    read.await.map(Json).map_err(|_| Refusal::internal())
}

fn no_media() -> Refusal {
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
