//! What the columns of a list hold.

use ratiomet_wire::describe::words;

use super::{ListCells, ListColumn, cell};

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Role {
    /// What the source is called.
    Name,
    /// Free words.
    Note,
    /// Stored width and height in one cell.
    Size,
    /// Stored width.
    Width,
    /// Stored height.
    Height,
    /// Width of a stored pixel over its height.
    PixelAspect,
    /// How many times the lens narrowed the picture.
    Squeeze,
    /// The clockwise turn that makes it stand upright.
    Rotation,
    /// Frames a second.
    Rate,
    /// Progressive or interlaced.
    Scan,
    /// Narrow or full.
    SignalRange,
    /// A flat picture or a sphere.
    Projection,
    /// Insets at left, top, right and bottom in one cell.
    Insets,
    /// The subject: left, top, width and height in one cell.
    Subject,
    /// Stored pixels off the left.
    Left,
    /// Stored pixels off the top.
    Top,
    /// Stored pixels off the right.
    Right,
    /// Stored pixels off the bottom.
    Bottom,
}

impl Role {
    /// Every role.
    pub const ALL: [Self; 18] = [
        Self::Name,
        Self::Note,
        Self::Size,
        Self::Width,
        Self::Height,
        Self::PixelAspect,
        Self::Squeeze,
        Self::Rotation,
        Self::Rate,
        Self::Scan,
        Self::SignalRange,
        Self::Projection,
        Self::Insets,
        Self::Subject,
        Self::Left,
        Self::Top,
        Self::Right,
        Self::Bottom,
    ];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Name => "name",
            Self::Note => "note",
            Self::Size => "size",
            Self::Width => "width",
            Self::Height => "height",
            Self::PixelAspect => "pixel_aspect",
            Self::Squeeze => "squeeze",
            Self::Rotation => "rotation",
            Self::Rate => "rate",
            Self::Scan => "scan",
            Self::SignalRange => "signal_range",
            Self::Projection => "projection",
            Self::Insets => "insets",
            Self::Subject => "subject",
            Self::Left => "left",
            Self::Top => "top",
            Self::Right => "right",
            Self::Bottom => "bottom",
        }
    }
}

words!(
    /// What a column holds.
    "Role" for Role, Role::ALL, Role::word
);

/// Headings as people write them, small letters and digits only.
const HEADINGS: &[(Role, &[&str])] = &[
    (
        Role::Name,
        &[
            "name",
            "clip",
            "clipname",
            "clips",
            "source",
            "sourcename",
            "filename",
            "file",
            "shot",
            "title",
            "reel",
            "camera",
        ],
    ),
    (Role::Note, &["note", "notes", "comment", "comments", "description", "remark", "remarks"]),
    (
        Role::Size,
        &[
            "size",
            "resolution",
            "raster",
            "framesize",
            "imagesize",
            "dimensions",
            "dimension",
            "storedsize",
            "pixels",
            "wxh",
            "videosize",
            "stored",
            "res",
            "format",
        ],
    ),
    (Role::Width, &["width", "w", "storedwidth", "pixelswide", "imagewidth", "framewidth", "hres", "xres"]),
    (
        Role::Height,
        &["height", "h", "storedheight", "pixelshigh", "imageheight", "frameheight", "vres", "yres", "lines"],
    ),
    (
        Role::PixelAspect,
        &[
            "pixelaspect",
            "pixelaspectratio",
            "par",
            "sar",
            "sampleaspect",
            "sampleaspectratio",
            "pixelshape",
            "pasp",
            "aspectofpixels",
        ],
    ),
    (
        Role::Squeeze,
        &["squeeze", "lenssqueeze", "anamorphic", "squeezefactor", "lens", "desqueeze", "anamorphicfactor"],
    ),
    (Role::Rotation, &["rotation", "turn", "rotate", "orientation", "turned", "rotationdeg"]),
    (Role::Rate, &["rate", "framerate", "fps", "framespersecond", "videoframerate", "shootingrate", "ratefps"]),
    (Role::Scan, &["scan", "scantype", "fieldorder", "fields", "scanning", "interlacing", "fielddominance"]),
    (Role::SignalRange, &["range", "signalrange", "levels", "colorrange", "colourrange", "videolevels", "datalevels"]),
    (Role::Projection, &["projection", "picture", "spherical", "sphere", "vr", "360"]),
    (Role::Subject, &["subject", "subjectbox", "pointofinterest"]),
    (Role::Insets, &["insets", "border", "borders", "activepicture", "blanking", "insetsltrb", "ltrb"]),
    (Role::Left, &["left", "cropleft", "insetleft", "offleft"]),
    (Role::Top, &["top", "croptop", "insettop", "offtop"]),
    (Role::Right, &["right", "cropright", "insetright", "offright"]),
    (Role::Bottom, &["bottom", "cropbottom", "insetbottom", "offbottom"]),
];

pub(super) fn role_of(heading: &str) -> Option<Role> {
    let plain: String = heading.to_lowercase().chars().filter(char::is_ascii_alphanumeric).collect();
    HEADINGS.iter().find(|(_, names)| names.contains(&plain.as_str())).map(|(role, _)| *role)
}

pub(super) struct Columns {
    pub headed: bool,
    pub columns: Vec<ListColumn>,
}

/// What the columns hold: by the headings in the first row, else by their cells.
pub(super) fn columns(rows: &[ListCells]) -> Columns {
    let Some(first) = rows.first() else {
        return Columns { headed: false, columns: Vec::new() };
    };
    let known = first.cells.iter().filter(|cell| role_of(cell).is_some()).count();
    let values = first.cells.iter().any(|cell| cell::size(cell).is_ok());
    let headed = known >= 1 && !values;
    let mut roles: Vec<Option<Role>> = vec![None; first.cells.len()];
    if headed {
        for (at, heading) in first.cells.iter().enumerate() {
            let role = role_of(heading).filter(|role| !roles.contains(&Some(*role)));
            roles[at] = role;
        }
    }
    let body = if headed { &rows[1..] } else { rows };
    guess(&mut roles, body);
    let heading = |at: usize| if headed { first.cells[at].clone() } else { String::new() };
    let columns = roles.into_iter().enumerate().map(|(at, role)| ListColumn::headed(&heading(at), role)).collect();
    Columns { headed, columns }
}

/// Finds a size, a name and a rate among the columns that no heading explains.
fn guess(roles: &mut [Option<Role>], rows: &[ListCells]) {
    let sample = &rows[..rows.len().min(100)];
    let mostly = |at: usize, holds: &dyn Fn(&str) -> bool| {
        let filled: Vec<_> = sample.iter().map(|row| row.cells[at].as_str()).filter(|cell| !cell.is_empty()).collect();
        !filled.is_empty() && filled.iter().filter(|cell| holds(cell)).count() * 2 > filled.len()
    };
    let free = |roles: &[Option<Role>], holds: &dyn Fn(&str) -> bool| {
        (0..roles.len()).find(|at| roles[*at].is_none() && mostly(*at, holds))
    };
    let sized = |roles: &[Option<Role>]| roles.contains(&Some(Role::Size)) || roles.contains(&Some(Role::Width));
    if !sized(roles)
        && let Some(at) = free(roles, &|cell| cell::size(cell).is_ok())
    {
        roles[at] = Some(Role::Size);
    }
    if !sized(roles) {
        let pixels = |cell: &str| cell.parse::<u32>().is_ok_and(|side| (64..=65_536).contains(&side));
        if let Some(at) = free(roles, &pixels) {
            roles[at] = Some(Role::Width);
            if let Some(at) = free(roles, &pixels) {
                roles[at] = Some(Role::Height);
            }
        }
    }
    if !roles.contains(&Some(Role::Name))
        && let Some(at) = free(roles, &|cell| cell.chars().any(char::is_alphabetic) && cell::size(cell).is_err())
    {
        roles[at] = Some(Role::Name);
    }
    if !roles.contains(&Some(Role::Rate))
        && let Some(at) = free(roles, &|cell| cell::rate(cell).is_ok_and(|rate| rate.likely))
    {
        roles[at] = Some(Role::Rate);
    }
}
