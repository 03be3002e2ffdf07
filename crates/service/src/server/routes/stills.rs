//! Pictures of sources: stills come in, and are shown.

use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::{IntoResponse, Response};
use ratiomet_core::project::{Edit, Footage, Note, ProjectId, SourceId, SourcePatch, StillFile, StillSpec};
use ratiomet_core::space::Axis;
use ratiomet_store::{Store, Subject};
use ratiomet_wire::describe::{record, words};
use ratiomet_wire::problem::Problem;
use ratiomet_wire::project::SourceResource;
use ratiomet_wire::whole::Whole;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{one, sources};
use crate::server::App;
use crate::server::refusal::Refusal;
use crate::server::reply::Reply;
use crate::server::request::{Numbers, Query, Upload};
use crate::stills::{self, Shown, Stills};

pub fn routes() -> OpenApiRouter<App> {
    OpenApiRouter::new().routes(routes!(add_still)).routes(routes!(picture)).routes(routes!(borders_of))
}

/// What a still is called.
#[derive(Clone, Debug)]
struct Called {
    file: Note,
}

record!(
    /// What a still is called.
    "StillName", "names of stills" for Called {
        /// The name of the file.
        file: Note = Default(r#""""#), |called| called.file.clone();
    }
    |file| Ok(Called { file })
);

/// How a source is shown.
#[derive(Clone, Debug)]
struct View {
    of: Shown,
    side: Whole<16, 8192>,
    form: Form,
    key: Note,
}

/// How a picture is sent.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
enum Form {
    Jpeg,
    Png,
}

words!(
    /// How a picture is sent.
    "PictureForm" for Form, [Form::Jpeg, Form::Png], |form: Form| match form {
        Form::Jpeg => "jpeg",
        Form::Png => "png",
    }
);

words!(
    /// How a source is shown.
    "Shown" for Shown, [Shown::Upright, Shown::Stored], |shown: Shown| match shown {
        Shown::Upright => "upright",
        Shown::Stored => "stored",
    }
);

record!(
    /// How a source is shown.
    "PictureView", "views" for View {
        /// The active picture turned upright, squeezed as it is stored; or all of it as stored.
        of: Shown = Default(r#""upright""#), |view| view.of;
        /// The most pixels of the longer side.
        side: Whole<16, 8192> = Default("640"), |view| view.side;
        /// As JPEG, for the eye; or as PNG, every sample as it is.
        form: Form = Default(r#""jpeg""#), |view| view.form;
        /// The `picture` of the source: an answer to it may be kept for good.
        key: Note = Default(r#""""#), |view| view.key.clone();
    }
    |of, side, form, key| Ok(View { of, side, form, key })
);

pub(super) fn source_of(store: &Store, project: ProjectId, id: SourceId) -> Result<Footage, Refusal> {
    let contents = store.contents(project)?;
    let footage = contents.project.source(id).cloned();
    footage.ok_or_else(|| store.missing(project, Subject::Source(id)).into())
}

pub(super) fn refused(why: &str) -> Refusal {
    Problem::new(
        422,
        "still",
        "The picture cannot be shown",
        format!("{why}."),
        "Choose a PNG, JPEG, TIFF, WebP, OpenEXR or DPX file of the source's size, or a test scene.",
    )
    .into()
}

/// Give a source a still: the bytes of a PNG, JPEG, TIFF, WebP, OpenEXR or DPX file
///
/// At most 512 MB. It is kept beside the data file by its content, and shown wherever the source is drawn; undo takes
/// it back. A still of another size than the source, or a whole fraction of it, is shown, and not carried out.
#[utoipa::path(
    post,
    path = "/projects/{project}/sources/{source}/still",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("file" = Option<String>, Query, description = "The name of the file"),
    ),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 200, body = SourceResource, headers(("ETag" = String, description = "The version, for If-Match"))),
        (status = 413, description = "Too long", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No picture that is read", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn add_still(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Query(called): Query<Called>,
    upload: Upload,
) -> Result<Reply, Refusal> {
    let (project, id) = (ProjectId::new(project), SourceId::new(id));
    app.run_on_stills(move |store, stills| {
        source_of(store, project, id)?;
        keep(store, stills, project, id, &upload.read()?, called.file)
    })
    .await
}

/// Keeps a still and gives it to a source.
pub(super) fn keep(
    store: &Store,
    stills: &Stills,
    project: ProjectId,
    id: SourceId,
    bytes: &[u8],
    name: Note,
) -> Result<Reply, Refusal> {
    let (content, raster, pixels) = stills.keep(bytes).map_err(|why| refused(&why))?;
    let still = StillSpec::File(StillFile { content, name, raster });
    let patch = SourcePatch { still: Some(Some(still)), ..SourcePatch::default() };
    one::edit(store, project, &Edit::SetSources { ids: vec![id], patch: Box::new(patch) }, None)?;
    let contents = store.contents(project)?;
    if let Some(footage) = contents.project.source(id) {
        // OK to let it fail because it is made when it is asked for, and what is wrong is told then.
        let _ = stills.show_first(contents.project.pictured(footage), &pixels);
    }
    one::read(store, project, Subject::Source(id), |contents| sources::resource(contents, id))
}

/// A source as a picture: its still, or its test scene
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/picture",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
        ("of" = Option<String>, Query, description = "upright (the active picture turned, squeezed as stored) or stored"),
        ("side" = Option<u32>, Query, description = "The most pixels of the longer side, 16 to 8192"),
        ("form" = Option<String>, Query, description = "jpeg, eight bit for the eye; or png, every sample as it is"),
        ("key" = Option<String>, Query, description = "The picture of the source: the answer may be kept for good"),
    ),
    responses(
        (status = 200, description = "A picture", content_type = "image/jpeg", body = Vec<u8>),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn picture(
    State(app): State<App>,
    Numbers((project, id)): Numbers<(i32, i32)>,
    Query(view): Query<View>,
) -> Result<Response, Refusal> {
    let (picture, lasting) = app
        .run_on_stills(move |store, stills| {
            let contents = store.contents(ProjectId::new(project))?;
            let footage = source_of(store, ProjectId::new(project), SourceId::new(id))?;
            let pictured = contents.project.pictured(&footage);
            let picture = stills
                .shown(pictured, stills::View { shown: view.of, side: view.side.get(), exact: view.form == Form::Png })
                .map_err(|why| refused(&why))?;
            Ok((picture, pictured.key().as_deref() == Some(view.key.as_str())))
        })
        .await?;
    let kept = if lasting { "private, max-age=31536000, immutable" } else { "no-store" };
    let kind = if view.form == Form::Png { "image/png" } else { "image/jpeg" };
    let headers = [(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, kept)];
    Ok((headers, Bytes::from(picture.as_ref().clone())).into_response())
}

/// Black edges of a source's still.
#[derive(Debug, Serialize, ToSchema)]
struct BordersFound {
    /// Stored pixels at each side.
    insets: FoundInsets,
    /// How sure all of them are, 0 to 1: as sure as the least.
    confidence: f64,
    /// How sure each is: left, top, right, bottom.
    sides: [f64; 4],
    /// Width over height of what is left, as it is seen.
    ratio: f64,
    /// The ratio that is meant, where a published one is as good as that.
    #[schema(example = "2.39")]
    meant: Option<&'static str>,
}

/// Stored pixels that are black.
#[derive(Debug, Serialize, ToSchema)]
struct FoundInsets {
    left: u32,
    top: u32,
    right: u32,
    bottom: u32,
}

/// Ratios of pictures that are masked or boxed, common practice: width over height, and the word for it.
const MEANT: [(f64, &str); 11] = [
    (1.0, "1"),
    (4.0 / 3.0, "4:3"),
    (1.375, "1.375"),
    (5.0 / 3.0, "1.66"),
    (16.0 / 9.0, "16:9"),
    (1.85, "1.85"),
    (2.0, "2.00"),
    (2.2, "2.20"),
    (2.35, "2.35"),
    (2.39, "2.39"),
    (2.76, "2.76"),
];
/// How far a ratio may be off the one that is meant.
const NEAR: f64 = 0.008;

/// The black edges of a source's still, to the pixel
#[utoipa::path(
    get,
    path = "/projects/{project}/sources/{source}/borders",
    tag = "pictures",
    params(
        ("project" = i32, Path, description = "The project's number"),
        ("source" = i32, Path, description = "The source's number"),
    ),
    responses(
        (status = 200, body = BordersFound),
        (status = 404, description = "Unknown", body = Problem, content_type = "application/problem+json"),
        (status = 422, description = "No still of the source's size", body = Problem, content_type = "application/problem+json"),
    )
)]
async fn borders_of(State(app): State<App>, Numbers((project, id)): Numbers<(i32, i32)>) -> Result<Reply, Refusal> {
    app.run_on_stills(move |store, stills| {
        let footage = source_of(store, ProjectId::new(project), SourceId::new(id))?;
        let contents = store.contents(ProjectId::new(project))?;
        let found = stills.borders(contents.project.pictured(&footage)).map_err(|why| refused(&why))?;
        let [left, top, right, bottom] = found.insets;
        let inside = stills::inside(&footage, found.insets).map_err(|why| refused(&why))?;
        let size = inside.upright();
        let ratio = (size.along(Axis::X) / size.along(Axis::Y)).to_f64();
        let apart = |meant: f64| (ratio / meant - 1.0).abs();
        let nearest = MEANT.iter().min_by(|one, other| apart(one.0).total_cmp(&apart(other.0)));
        let meant = nearest.filter(|(meant, _)| apart(*meant) < NEAR).map(|(_, word)| *word);
        let insets = FoundInsets { left, top, right, bottom };
        Ok(Reply::json(&BordersFound { insets, confidence: found.confidence(), sides: found.sides, ratio, meant }))
    })
    .await
}
