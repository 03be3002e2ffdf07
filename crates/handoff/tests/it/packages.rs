//! Packages of small projects.

use std::io::Cursor;
use std::sync::Arc;

use ratiomet_core::project::{Footage, Package, Packaged, Selection};
use ratiomet_exchange::project_file;
use ratiomet_handoff::{Format, Order, Outcomes, Written};
use serde_json::{Value, json};

/// The package of a project as its file would have it; the project lives as long as the tests.
pub fn package(document: &Value) -> Package<'static> {
    let project = project_file::read(document.to_string().as_bytes()).expect("a project");
    Package::of(Box::leak(Box::new(project)), "2026-11-26", &Selection::default(), || true).expect("not stopped")
}

/// A squeezed camera, a tape and a phone into a scope, a masked and an upright frame.
pub fn small() -> Value {
    json!({
        "format": "ratiomet project",
        "format_version": 1,
        "project": { "name": "Small kiln", "method": "fill" },
        "sources": [
            { "id": 1, "values": { "name": "A014 Furnace", "geometry": { "raster": [960, 720], "squeeze": "2" }, "rate": "24" } },
            { "id": 2, "values": { "name": "T1987 Tape", "geometry": { "raster": [720, 576], "pixel_aspect": "12:11", "active": { "left": 8, "top": 4, "right": 10, "bottom": 6 } }, "rate": "25", "scan": "interlaced" } },
            { "id": 3, "values": { "name": "P007 Phone", "geometry": { "raster": [640, 360], "rotation": 90 }, "rate": "30000/1001" } },
        ],
        "frames": [
            { "id": 1, "values": { "name": "Scope", "geometry": { "raster": [1024, 428] }, "rate": "24" } },
            { "id": 2, "values": { "name": "Masked", "geometry": { "raster": [640, 360], "picture_ratio": "2.00" }, "safe_areas": ["ebu_r95"] } },
            { "id": 3, "values": { "name": "Upright", "geometry": { "raster": [360, 640] } } },
        ],
        "conversions": [{ "source": 1, "frame": 1, "own": { "method": "fill", "zoom": "1.05", "shift": ["-12.5", "0"] } }],
    })
}

/// Everything that needs no stills.
pub fn all() -> Vec<Format> {
    Format::usual()
}

/// Sources without stills.
struct NoStills;

impl Outcomes for NoStills {
    fn lacks(&self, _: &Packaged) -> Option<String> {
        Some("its source has no still".to_owned())
    }

    fn png(&self, _: &Packaged) -> Result<Vec<u8>, String> {
        Err("nobody asks for it".to_owned())
    }

    fn overlay(&self, _: &Footage, _: bool) -> Result<Vec<u8>, String> {
        Err("no pictures here".to_owned())
    }

    fn small(&self, _: &Packaged, _: u32) -> Option<Arc<Vec<u8>>> {
        None
    }

    fn stored(&self, _: &Packaged, _: u32) -> Option<Arc<Vec<u8>>> {
        None
    }
}

/// What is handed over of a package.
pub const fn order<'a>(package: &'a Package<'a>, formats: &'a [Format]) -> Order<'a> {
    Order { package, formats, outcomes: &NoStills, pictures: false }
}

/// The files of some formats.
pub fn files(package: &Package, formats: &[Format]) -> Vec<Written> {
    order(package, formats).files(&|| true).expect("files")
}

/// The archive of some formats.
pub fn zipped(package: &Package, formats: &[Format]) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    order(package, formats).write(&|| true, &mut bytes).expect("an archive");
    bytes.into_inner()
}

/// One written file.
pub fn written(package: &Package, format: Format, path: &str) -> Vec<u8> {
    let files = files(package, &[format]);
    let paths: Vec<_> = files.iter().map(|file| file.path.clone()).collect();
    let found = files.into_iter().find(|file| file.path == path);
    found.unwrap_or_else(|| panic!("{path} is none of {paths:?}")).bytes
}
