//! Stills out of the media folder: pictures, and frames of movies.

use std::io::{Read, Seek};

use axum::extract::State;
use ratiomet_core::project::{Note, ProjectId, SourceId};
use ratiomet_picture::Still;
use ratiomet_picture::limits::MOST_BYTES;
use ratiomet_wire::Text;
use ratiomet_wire::describe::{Values, record};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::SourceResource;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::media::no_media;
use super::stills::{keep, refused, source_of};
use crate::movie::{self, Moment};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Body, Numbers};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(still_from_media))
}

/// A file of the media folder, and a moment of it.
#[derive(Clone, Debug)]
struct Taken {
    path: String,
    at: String,
}

record!(
    /// A file of the media folder, and a moment of it.
    "StillFromMedia", "stills" for Taken {
        /// The path of the file in the media folder: a still, one of a numbered sequence, or a movie.
        path: Text<4096> = Required, |taken| Text(taken.path.clone());
        /// Which frame of a movie: seconds from its start, or timecode from its start as 00:00:12:08 at the source's rate.
        at: Text<40> = Default(r#""0""#), |taken| Text(taken.at.clone());
    }
    |path, at| Ok(Taken { path: path.0, at: at.0 })
);

type StillFromMedia = Values<Taken>;

/// Give a source a still out of the media folder: a picture, or an exact frame of a movie
///
/// Frames of movies are taken by ffmpeg, where this machine has it: as they are stored, before any turn. When the request is
/// given up, so is the work.
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/still/media",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    request_body = StillFromMedia,
    responses(
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 404, description = "Unknown, or there is no media folder", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No such file, no such frame, or bad fields", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn still_from_media(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Body(Taken { path, at }): Body<Taken>,
) -> Result<Reply, Refusal> {
    let moment = Moment::parse(&at)
        .ok_or_else(|| Refusal::field("/at", "seconds from the start such as 12.5, or timecode such as 00:00:12:08"))?;
    let media = app.media.clone().ok_or_else(no_media)?;
    let (project, id) = (ProjectId::new(project), SourceId::new(id));
    let room = app.stills.room().await;
    let name = path.rsplit('/').next().unwrap_or_default().to_owned();
    let (file, still, seconds) = app
        .run(move |store| {
            let footage = source_of(store, project, id)?;
            let no_file = |why: std::io::Error| Refusal::field("/path", format!("a file of the media folder: {why}"));
            let mut file = media.file(&path).map_err(no_file)?;
            let length = file.metadata().map_err(no_file)?;
            if !length.is_file() {
                return Err(Refusal::field("/path", "a file of the media folder, and no folder"));
            }
            let mut head = [0; 16];
            let read = file.read(&mut head).map_err(no_file)?;
            file.rewind().map_err(no_file)?;
            let still = Still::is_known(&head[..read]);
            let mut bytes = Vec::new();
            if still {
                if length.len() > MOST_BYTES {
                    return Err(refused(&format!("the file has more than {} MB", MOST_BYTES >> 20)));
                }
                file.take(MOST_BYTES).read_to_end(&mut bytes).map_err(no_file)?;
                return Ok((None, Some(bytes), 0.0));
            }
            let rate = footage.rate.as_ref().map(ratiomet_core::fraction::Written::value);
            let seconds = moment.seconds(rate).map_err(|why| Refusal::field("/at", why))?;
            Ok((Some(file), None, seconds))
        })
        .await?;
    let (bytes, called) = match (still, file) {
        (Some(bytes), _) => (bytes, name),
        (None, Some(file)) => {
            (movie::frame(file, seconds).await.map_err(|why| refused(&why))?, format!("{name} at {at}"))
        }
        (None, None) => return Err(Refusal::internal()),
    };
    let stills = app.stills.clone();
    let called = Note::new(&called).unwrap_or_default();
    app.run(move |store| {
        let _room = room;
        keep(store, &stills, project, id, &bytes, called)
    })
    .await
}
