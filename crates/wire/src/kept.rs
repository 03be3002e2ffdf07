//! What is kept of a project and of the house: states in a format with a number, and every format that ever
//! was brought up to the newest, one small step a format.

use std::collections::BTreeMap;

use ratiomet_core::Finding;
use ratiomet_core::project::{
    Choice, Deliverable, Footage, HouseActivePicture, HouseFrame, HouseProfile, ProjectSettings,
};
use serde_json::{Value, json};

use crate::describe::{As, Json};
use crate::read::Reader;

/// The newest format: that in which states are written.
pub const FORMAT: i32 = 9;

/// What a state is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Kind {
    /// The settings of a project.
    Project,
    /// A source.
    Source,
    /// A frame.
    Frame,
    /// What a conversion adds.
    Conversion,
    /// A frame of the house.
    HouseFrame,
    /// An active picture of the house.
    ActivePicture,
    /// A typing profile of the house.
    TypingProfile,
}

impl Kind {
    /// Every kind.
    pub const ALL: [Self; 7] = [
        Self::Project,
        Self::Source,
        Self::Frame,
        Self::Conversion,
        Self::HouseFrame,
        Self::ActivePicture,
        Self::TypingProfile,
    ];

    /// The word for it in the data file.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Project => "project",
            Self::Source => "source",
            Self::Frame => "frame",
            Self::Conversion => "conversion",
            Self::HouseFrame => "house_frame",
            Self::ActivePicture => "active_picture",
            Self::TypingProfile => "typing_profile",
        }
    }

    /// The kind of a word, if it is known.
    pub fn of(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.word() == word)
    }
}

/// Something of which states are kept.
pub trait Kept: Json {
    /// What it is.
    const KIND: Kind;
}

macro_rules! kept {
    ($($type:ty: $kind:ident,)*) => {$(
        impl Kept for $type {
            const KIND: Kind = Kind::$kind;
        }
    )*};
}

kept! {
    ProjectSettings: Project,
    Footage: Source,
    Deliverable: Frame,
    Choice: Conversion,
    HouseFrame: HouseFrame,
    HouseActivePicture: ActivePicture,
    HouseProfile: TypingProfile,
}

/// A state in the newest format.
///
/// # Panics
/// Never: values are plain data with text keys.
pub fn write<T: Kept>(value: &T) -> String {
    serde_json::to_string(&As(value)).expect("plain data with text keys")
}

/// A state that was written in some format.
///
/// # Errors
/// Why it cannot be read, as a sentence.
pub fn read<T: Kept>(format: i32, body: &str) -> Result<T, String> {
    if format == FORMAT {
        return Reader::request(body.as_bytes()).map_err(|problem| problem.detail);
    }
    let value = serde_json::from_str(body).map_err(|error| format!("it is no JSON: {error}"))?;
    let upgraded = upgrade(T::KIND, format, value)?;
    Reader::request(upgraded.to_string().as_bytes()).map_err(|problem| problem.detail)
}

/// A state brought up to the newest format, one step after the other.
///
/// # Errors
/// For a format that this program does not know.
///
/// ```
/// use ratiomet_wire::kept::{Kind, upgrade};
/// let old = serde_json::json!({ "accepted": [{
///     "code": "subject_cut", "reason": "seen", "said": "12.5 % of the subject is cut off in this frame.",
/// }]});
/// let new = upgrade(Kind::Conversion, 1, old).unwrap();
/// assert_eq!(new["accepted"][0]["numbers"]["cut"], "12.5");
/// ```
pub fn upgrade(kind: Kind, format: i32, value: Value) -> Result<Value, String> {
    match format {
        FORMAT => Ok(value),
        1 => upgrade(kind, 2, acceptances_by_numbers(kind, value)),
        2 => upgrade(kind, 3, boards_that_fit(kind, value)),
        3 => upgrade(kind, 4, signals_that_are_said(kind, value)),
        // Frames may keep since then how their file is made; where nothing is kept of it, nothing was said.
        4 => upgrade(kind, 5, value),
        // Sources may keep since then the picture that they show; where nothing is kept of it, they show none.
        5 => upgrade(kind, 6, value),
        // Conversions may keep since then how their samples are worked out; where nothing is kept, nobody has decided.
        6 => upgrade(kind, 7, value),
        // Sources and frames may keep since then how spheres lie in them; where nothing is kept, they are full and mono.
        7 => upgrade(kind, 8, value),
        // Spheres may keep since then pictures that stand on them; where nothing is kept, there are none.
        8 => upgrade(kind, 9, value),
        newer if newer > FORMAT => {
            Err(format!("it has format {newer}; this version of Ratiomet knows formats up to {FORMAT}"))
        }
        unknown => Err(format!("there is no format {unknown}")),
    }
}

/// From format 3 to 4: a source may leave unsaid how it is scanned and which range it has; one that said nothing was
/// progressive and narrow until then.
fn signals_that_are_said(kind: Kind, mut value: Value) -> Value {
    if let (Kind::Source, Some(source)) = (kind, value.as_object_mut()) {
        source.entry("scan").or_insert_with(|| "progressive".into());
        source.entry("signal_range").or_insert_with(|| "narrow".into());
    }
    value
}

/// From format 2 to 3: projects keep tolerances, sources and frames what they are of, and sources how they are
/// handed over; what is left out of these is as it was. A board without a method of its own filled its frames
/// only since then.
fn boards_that_fit(kind: Kind, mut value: Value) -> Value {
    if let (Kind::Project, Some(settings)) = (kind, value.as_object_mut()) {
        settings.entry("method").or_insert_with(|| "fit".into());
    }
    value
}

/// From format 1 to 2: what was accepted of a conversion is kept by the numbers of the finding, and no longer
/// by its sentence.
fn acceptances_by_numbers(kind: Kind, mut value: Value) -> Value {
    if kind != Kind::Conversion {
        return value;
    }
    if let Some(accepted) = value.get_mut("accepted").and_then(Value::as_array_mut) {
        for acceptance in accepted.iter_mut().filter_map(Value::as_object_mut) {
            let code = acceptance.get("code").and_then(Value::as_str).unwrap_or_default().to_owned();
            if let Some(Value::String(said)) = acceptance.remove("said") {
                acceptance.insert("numbers".to_owned(), json!(numbers_of(&code, &said)));
            }
        }
    }
    value
}

/// The numbers in a sentence of format 1, under the names that they have since. The sentences are those that
/// were shipped; one that is not of them gives numbers that no finding has, so that it is open again.
fn numbers_of(code: &str, said: &str) -> BTreeMap<&'static str, String> {
    let before = |mark: &str| number_before(said, mark);
    let pixels = |x: &str, y: &str| {
        let side = |mark: &str| before(mark).unwrap_or_else(|| "0".to_owned());
        vec![("x", side(x)), ("y", side(y))]
    };
    let all = numbers(said);
    let at = |place: usize| all.get(place).cloned().unwrap_or_default();
    let named: Vec<(&'static str, String)> = match code {
        "bars" => pixels(" px left and right", " px top and bottom"),
        "off_edge" => {
            // "Moved past the end of its travel by 12 px across and 3 px up and down; 40 px across and ..."
            let (beyond, travel) = said.split_once(';').unwrap_or((said, ""));
            let side = |part: &str, mark: &str| number_before(part, mark).unwrap_or_else(|| "0".to_owned());
            vec![
                ("beyond_x", side(beyond, " px across")),
                ("beyond_y", side(beyond, " px up and down")),
                ("travel_x", side(travel, " px across")),
                ("travel_y", side(travel, " px up and down")),
            ]
        }
        "double_boxed" => pixels(" px of black across", " px up and down"),
        "distorted" => {
            let sign = if said.contains("narrower") { "-" } else { "" };
            vec![("percent", format!("{sign}{}", at(0)))]
        }
        "enlarged" => vec![("percent", at(0)), ("whole", at(1)), ("remainder", at(2))],
        "enlarged_one_way" => {
            let axis = if said.starts_with("Across") { "x" } else { "y" };
            vec![("axis", axis.to_owned()), ("percent", at(0))]
        }
        "odd_size" => vec![("raster", format!("{}x{}", at(0), at(1))), ("step", at(2))],
        "mostly_lost" => vec![("kept", at(0))],
        "sideways" => vec![("turned", at(0)), ("now", at(1))],
        "near_published" => {
            let published = said.rsplit_once("which is ").map_or("", |(_, rest)| rest);
            let sides = numbers(published);
            let side = |place: usize| sides.get(place).cloned().unwrap_or_default();
            vec![("raster", format!("{}x{}", at(0), at(1))), ("published", format!("{}x{}", side(0), side(1)))]
        }
        "subject_cut" if said.starts_with("Nothing") => vec![("cut", "100".to_owned())],
        "subject_cut" => vec![("cut", at(0))],
        "squeeze_missing" => vec![("squeeze", at(0))],
        "squeeze_twice" => vec![("pixel_aspect", at(0)), ("squeeze", at(1))],
        "detour" => {
            // The name of the working frame may hold numbers of its own.
            let numbers = said.rsplit_once(" only ").map_or_else(Vec::new, |(_, rest)| numbers(rest));
            let names = ["detail_x", "detail_y", "direct_x", "direct_y"];
            names.into_iter().zip(numbers).collect()
        }
        "rate_mixed" => vec![("from", at(0)), ("to", at(1))],
        "range" => {
            let full_first = said.starts_with("The source uses the full");
            let (from, to) = if full_first { ("full", "narrow") } else { ("narrow", "full") };
            vec![("from", from.to_owned()), ("to", to.to_owned())]
        }
        _ => Vec::new(),
    };
    debug_assert!(Finding::CODES.contains(&code) || named.is_empty(), "only findings have numbers");
    named.into_iter().collect()
}

/// Every number of a text, in order.
fn numbers(text: &str) -> Vec<String> {
    let apart = text.split(|each: char| !(each.is_ascii_digit() || each == '.'));
    let digits = apart.map(|part| part.trim_matches('.')).filter(|part| !part.is_empty());
    digits.map(str::to_owned).collect()
}

/// The number that stands right before some words.
fn number_before(text: &str, words: &str) -> Option<String> {
    let (front, _) = text.split_once(words)?;
    numbers(front).pop()
}
