//! What a cell means, in the spellings that people use.

use ratiomet_core::fraction::Written;
use ratiomet_core::published::{self, PIXEL_ASPECTS};
use ratiomet_core::signal::{Projection, Scan, SignalRange};
use ratiomet_core::space::Stored;
use ratiomet_core::sphere::SphereForm;
use ratiomet_core::subject::{Share, SubjectSpec};
use ratiomet_core::{Error, Exact, FrameRate, PixelAspect, Raster, Rotation, Squeeze};

/// What was understood, and what is to be said about it.
#[derive(Debug)]
pub(super) struct Meant<T> {
    pub value: T,
    /// Worth saying, without doubt.
    pub note: Option<String>,
    /// What was assumed.
    pub doubt: Option<String>,
}

impl<T> Meant<T> {
    fn plain(value: T) -> Self {
        Self { value, note: None, doubt: None }
    }

    fn doubtful(value: T, doubt: impl Into<String>) -> Self {
        Self { value, note: None, doubt: Some(doubt.into()) }
    }
}

type Read<T> = Result<Meant<T>, String>;

/// A cell that a spreadsheet would compute is never taken for a value.
pub(super) fn is_formula(cell: &str) -> bool {
    cell.starts_with('=') || cell.starts_with('@')
}

/// A number with a decimal comma made one with a point.
fn decimal_point(text: &str) -> (String, bool) {
    match text.split_once(',') {
        Some((whole, decimals))
            if !text.contains('.')
                && !decimals.contains(',')
                && !whole.is_empty()
                && whole.bytes().chain(decimals.bytes()).all(|byte| byte.is_ascii_digit()) =>
        {
            (format!("{whole}.{decimals}"), true)
        }
        _ => (text.to_owned(), false),
    }
}

fn comma_doubt(text: &str, read_as: &str) -> String {
    format!("{text} was read with a decimal comma, as {read_as}.")
}

const SIZE: &str = "a size such as 3840x2160, 3840×2160 or 3840 2160";

/// A size, and what else its spelling says.
#[derive(Debug)]
pub(super) struct Sized {
    pub raster: Raster<Stored>,
    /// The rate behind it, as it is written.
    pub rate: Option<String>,
    /// It says that it is interlaced, or that it is not.
    pub interlaced: Option<bool>,
}

/// Stored width and height, with what stands behind them: "3840x2160p25", "1080i50".
pub(super) fn size_and_rate(cell: &str) -> Read<Sized> {
    let plain = |meant: Meant<Raster<Stored>>, rate, interlaced| {
        let Meant { value, note, doubt } = meant;
        Meant { value: Sized { raster: value, rate, interlaced }, note, doubt }
    };
    let lower = cell.split('(').next().unwrap_or_default().trim().to_lowercase();
    // Digits, the letter of the scan, the rate; the letter alone says the scan.
    if let Some((before, behind)) = lower.rsplit_once(['p', 'i'])
        && before.ends_with(|letter: char| letter.is_ascii_digit() || letter == ' ')
        && behind
            .trim_start_matches(['@', '/', ' '])
            .chars()
            .all(|letter| letter.is_ascii_digit() || ".,".contains(letter))
    {
        let interlaced = lower.as_bytes()[before.len()] == b'i';
        let behind = behind.trim_start_matches(['@', '/', ' ']);
        let rate = (!behind.is_empty()).then(|| format!("{behind}{}", if interlaced { "i" } else { "" }));
        let named = format!("{}{}", before.trim(), if interlaced { 'i' } else { 'p' });
        if let Ok(meant) = size(before.trim()).or_else(|_| size(&named)) {
            return Ok(plain(meant, rate, interlaced.then_some(true)));
        }
    }
    size(cell).map(|meant| plain(meant, None, None))
}

/// Stored width and height.
pub(super) fn size(cell: &str) -> Read<Raster<Stored>> {
    let lower = cell.split('(').next().unwrap_or_default().trim().to_lowercase();
    let refuse = || format!("{SIZE}, each side from 1 to 65536");
    let raster = |width: &str, height: &str| -> Option<Raster<Stored>> {
        Raster::new(whole_side(width)?, whole_side(height)?).ok()
    };
    for separator in ["×", "x", "*", " by ", "/", " "] {
        if let Some((width, height)) = lower.split_once(separator) {
            let (width, height) = (width.trim(), height.trim());
            if width.is_empty() || height.is_empty() {
                continue;
            }
            if let Some(raster) = raster(width, height.trim_end_matches("px").trim_end_matches(['p', 'i']).trim()) {
                return Ok(Meant::plain(raster));
            }
        }
    }
    named_size(&lower).ok_or_else(refuse)
}

/// A side in digits, with a thousands mark at most.
fn whole_side(text: &str) -> Option<u32> {
    let text = text.trim().trim_end_matches("px").trim_end_matches("pixels").trim();
    let digits: String = match text.split_once([',', '.', '\'', ' ']) {
        // A whole number written as one with decimals.
        Some((whole, zeros)) if !zeros.is_empty() && zeros.len() != 3 && zeros.bytes().all(|digit| digit == b'0') => {
            whole.to_owned()
        }
        Some((thousands, rest)) if rest.len() == 3 && !thousands.is_empty() && thousands.len() <= 2 => {
            format!("{thousands}{rest}")
        }
        Some(_) => return None,
        None => text.to_owned(),
    };
    let sound = !digits.is_empty() && digits.len() <= 6 && digits.bytes().all(|byte| byte.is_ascii_digit());
    if sound { digits.parse().ok() } else { None }
}

fn named_size(lower: &str) -> Option<Meant<Raster<Stored>>> {
    // "4K UHD" and "DCI 4K" are two names of which the one settles the other.
    let words: Vec<&str> = lower.split([' ', '-', '_']).filter(|word| !word.is_empty()).collect();
    let joined = |words: &[&str]| published::named_size(&words.concat());
    let named = published::named_size(lower).or_else(|| joined(&words)).or_else(|| {
        let mut turned = words.clone();
        turned.reverse();
        joined(&turned).or_else(|| {
            let mut each = words.iter().map(|word| published::named_size(word)).collect::<Option<Vec<_>>>()?;
            let sure = each.iter().position(|named| named.doubt.is_none())?;
            let size = each[sure].size;
            let agree = each.iter().all(|named| named.size == size || named.other == Some(size));
            agree.then(|| each.swap_remove(sure))
        })
    });
    let published::NamedSize { size: [width, height], doubt, .. } = named?;
    let raster = Raster::new(width, height).ok()?;
    Some(match doubt {
        None => Meant { value: raster, note: Some(format!("{lower} was read as {raster}.")), doubt: None },
        Some(doubt) => Meant::doubtful(raster, format!("{lower} was read as {raster}: {doubt}.")),
    })
}

/// One side, or one inset.
pub(super) fn side(cell: &str) -> Read<u32> {
    whole_side(cell).map(Meant::plain).ok_or_else(|| "a whole number of pixels".to_owned())
}

fn accepted<T>(answer: Result<Written<T>, Error>) -> Result<Written<T>, String> {
    answer.map_err(|error| error.to_string())
}

/// A pixel aspect.
pub(super) fn pixel_aspect(cell: &str) -> Read<Written<PixelAspect>> {
    let lower = cell.to_lowercase();
    if ["square", "-", "none"].contains(&lower.as_str()) {
        return accepted(Written::parse("1", PixelAspect::parse)).map(Meant::plain);
    }
    let (text, comma) = decimal_point(&lower);
    let value = accepted(Written::parse(&text, PixelAspect::parse))?;
    if comma {
        return Ok(Meant { doubt: Some(comma_doubt(cell, &text)), ..Meant::plain(value) });
    }
    let exact = value.value().value();
    let near = PIXEL_ASPECTS.iter().find(|(across, down)| {
        let known = Exact::whole(*across) / Exact::whole(*down);
        let off = (exact / &known - Exact::ONE).abs();
        !off.is_zero() && off <= Exact::fraction(1, 500)
    });
    Ok(match near {
        Some((across, down)) => {
            let doubt = format!("{cell} is kept as entered; {across}:{down} (ITU-T H.264, Table E-1) may be meant.");
            Meant { doubt: Some(doubt), ..Meant::plain(value) }
        }
        None => Meant::plain(value),
    })
}

/// A lens squeeze.
pub(super) fn squeeze(cell: &str) -> Read<Written<Squeeze>> {
    let lower = cell.to_lowercase().replace('×', "x");
    if ["none", "no", "spherical", "flat", "-", "n/a"].contains(&lower.as_str()) {
        return accepted(Written::parse("1", Squeeze::parse)).map(Meant::plain);
    }
    let bare = lower.replace("anamorphic", "");
    let bare = bare.trim().trim_matches('x').trim();
    let (text, comma) = decimal_point(bare);
    let value = accepted(Written::parse(&text, Squeeze::parse))?;
    Ok(if comma { Meant::doubtful(value, comma_doubt(cell, &text)) } else { Meant::plain(value) })
}

/// The clockwise turn that makes it stand upright.
pub(super) fn rotation(cell: &str) -> Read<Rotation> {
    let lower = cell.to_lowercase();
    let bare = lower.trim_end_matches(['°', ' ']).trim_end_matches("deg").trim();
    let rotation = match bare {
        "0" | "none" | "no" | "-" | "upright" | "normal" => Rotation::None,
        "90" | "cw" | "90 cw" | "90cw" | "-270" => Rotation::Quarter,
        "180" | "-180" => Rotation::Half,
        "270" | "ccw" | "90 ccw" | "90ccw" => Rotation::ThreeQuarters,
        "-90" => {
            let doubt = "-90 was read as 90° anticlockwise (270); some programs count the other way.";
            return Ok(Meant::doubtful(Rotation::ThreeQuarters, doubt));
        }
        _ => return Err("a clockwise rotation of 0, 90, 180 or 270 degrees".to_owned()),
    };
    Ok(Meant::plain(rotation))
}

/// A flat picture or a sphere.
pub(super) fn projection(cell: &str) -> Read<(Projection, SphereForm)> {
    let lower = cell.to_lowercase();
    let whole = lower.trim_end_matches(['°', ' ']);
    match whole {
        "flat" | "no" | "none" | "-" | "rectilinear" | "false" | "0" => {
            return Ok(Meant::plain((Projection::Flat, SphereForm::default())));
        }
        "360 vr" => return Ok(Meant::plain((Projection::Sphere, SphereForm::default()))),
        _ => {}
    }
    let (word, form) = whole.split_once(' ').unwrap_or((whole, ""));
    match word {
        "sphere" | "spherical" | "equirectangular" | "360" | "yes" | "true" | "vr" => SphereForm::parse(form),
        _ => None,
    }
    .map(|form| Meant::plain((Projection::Sphere, form)))
    .ok_or_else(|| "flat or sphere, which may go on with 180x180, top_bottom, side_by_side or right_first".to_owned())
}

/// A frame rate, and what else its spelling says.
#[derive(Debug)]
pub(super) struct Rate {
    pub meant: Meant<Written<FrameRate>>,
    /// The spelling says that it is interlaced.
    pub interlaced: bool,
    /// It is one that footage has.
    pub likely: bool,
}

/// Frames a second.
pub(super) fn rate(cell: &str) -> Result<Rate, String> {
    let lower = cell.to_lowercase();
    let units = [
        "frames/s",
        "fps",
        "hz",
        "bilder/s",
        "bild/s",
        "b/s",
        "images/s",
        "im/s",
        "i/s",
        "ips",
        "fotogrammi/s",
        "fotogramas/s",
        "cuadros/s",
        "cps",
        "p/s",
    ];
    let mut bare = units.iter().find_map(|unit| lower.trim().strip_suffix(unit)).unwrap_or(&lower).trim();
    let drop_frame = !bare.ends_with("ndf") && bare.ends_with("df");
    bare = bare.trim_end_matches("ndf").trim_end_matches("df").trim();
    let fields = bare.ends_with('i');
    bare = bare.trim_end_matches(['i', 'p']).trim();
    let (text, comma) = decimal_point(bare);
    let mut value = accepted(Written::parse(&text, FrameRate::spoken))?;
    let mut meant = Meant::plain(());
    if fields && *value.value().value() >= Exact::whole(47) {
        let halved = halved(&text)?;
        meant.doubt = Some(format!("{cell} was read as {} fps of two fields each.", halved.text()));
        value = halved;
    }
    let exact = value.value().value();
    let spelled = ratiomet_core::fraction::parse(value.text(), ratiomet_core::fraction::Sign::Never);
    if spelled.is_ok_and(|spelled| spelled != *exact) {
        let about = if drop_frame { "; df is its timecode only" } else { "" };
        meant.note = Some(format!("{} means exactly {exact}{about}", value.text()));
    } else if drop_frame {
        meant.note = Some("df (drop frame) concerns the timecode only.".to_owned());
    }
    if comma {
        meant.doubt = Some(comma_doubt(cell, &text));
    }
    let likely = *exact >= Exact::whole(6) && *exact <= Exact::whole(480);
    if !likely && meant.doubt.is_none() {
        meant.doubt = Some(format!("{} fps is unusual.", value.text()));
    }
    Ok(Rate { meant: Meant { value, note: meant.note, doubt: meant.doubt }, interlaced: fields, likely })
}

/// Half a rate that counts fields.
fn halved(text: &str) -> Result<Written<FrameRate>, String> {
    let rate = FrameRate::spoken(text).map_err(|error| error.to_string())?;
    let half = rate.value().half();
    let text = match half.short_terms() {
        Some((whole, 1)) => whole.to_string(),
        Some((above, below)) => format!("{above}/{below}"),
        None => return Err("a frame rate".to_owned()),
    };
    accepted(Written::parse(&text, FrameRate::spoken))
}

/// Progressive or interlaced.
pub(super) fn scan(cell: &str) -> Read<Scan> {
    let lower: String = cell.to_lowercase().chars().filter(|letter| letter.is_alphanumeric()).collect();
    match lower.as_str() {
        "progressiv" | "vollbilder" | "vollbild" | "progressif" | "progresivo" | "progressivo" => {
            Ok(Meant::plain(Scan::Progressive))
        }
        "halbbilder" | "zeilensprung" | "entrelacé" | "entrelace" | "entrelazado" | "interlacciato" | "uff" | "lff"
        | "upperfieldfirst" | "lowerfieldfirst" | "upperfield" | "lowerfield" | "topfirst" | "bottomfirst"
        | "topfield" | "bottomfield" | "top" | "bottom" | "tt" | "bb" | "tb" | "bt" | "mbaff" | "paff" | "fields"
        | "field" | "interlacedtff" | "interlacedbff" | "evenfirst" | "oddfirst" => Ok(Meant::plain(Scan::Interlaced)),
        "progressive" | "p" | "prog" | "frame" | "frames" | "none" | "no" => Ok(Meant::plain(Scan::Progressive)),
        "psf" | "segmented" => Ok(Meant::doubtful(Scan::Progressive, "Segmented frames were read as progressive.")),
        "interlaced" | "i" | "upper" | "lower" | "upperfirst" | "lowerfirst" | "tff" | "bff" | "topfieldfirst"
        | "bottomfieldfirst" | "yes" => Ok(Meant::plain(Scan::Interlaced)),
        _ => Err("progressive or interlaced".to_owned()),
    }
}

/// Narrow or full.
pub(super) fn signal_range(cell: &str) -> Read<SignalRange> {
    let lower: String = cell.to_lowercase().chars().filter(|letter| letter.is_alphanumeric()).collect();
    // "Full range", "video levels" and "full (0-1023)" say it twice.
    let bare = ["range", "levels", "level", "swing", "scale"]
        .iter()
        .fold(lower.as_str(), |text, word| text.trim_end_matches(word));
    match bare {
        "narrow" | "legal" | "limited" | "video" | "16235" | "64940" | "2563760" | "tv" | "mpeg" | "smpte" | "head"
        | "narrow16235" | "narrow64940" | "legal64940" | "limited64940" | "limited16235" | "eingeschränkt"
        | "begrenzt" | "limité" | "limitée" | "limitado" | "limitato" | "reduced" => {
            Ok(Meant::plain(SignalRange::Narrow))
        }
        "full" | "data" | "pc" | "0255" | "01023" | "04095" | "jpeg" | "extended" | "full0255" | "full01023"
        | "voll" | "vollständig" | "complet" | "complète" | "étendu" | "étendue" | "completo" | "completa"
        | "pieno" | "piena" => Ok(Meant::plain(SignalRange::Full)),
        _ => Err("narrow (legal, video) or full (data)".to_owned()),
    }
}

/// Insets at left, top, right and bottom.
pub(super) fn insets(cell: &str) -> Read<[u32; 4]> {
    let refuse = || "four whole numbers of stored pixels: left/top/right/bottom, such as 8/4/10/6".to_owned();
    if ["-", "none", "0", "no"].contains(&cell.to_lowercase().as_str()) {
        return Ok(Meant::plain([0; 4]));
    }
    let parts: Vec<_> = cell.split(['/', ' ', ';', ',']).filter(|part| !part.is_empty()).collect();
    let sides: Vec<_> = parts.iter().filter_map(|part| whole_side(part)).collect();
    match (parts.len(), sides.as_slice()) {
        (4, [left, top, right, bottom]) => Ok(Meant::plain([*left, *top, *right, *bottom])),
        _ => Err(refuse()),
    }
}

/// A subject: x, y, width and height as shares of the upright picture.
pub(super) fn subject(cell: &str) -> Read<SubjectSpec> {
    let refuse = || "four numbers from 0 to 1 for left, top, width and height, such as 0.25 0.1 0.2 0.5".to_owned();
    let parts: Vec<_> = cell.split([' ', ';']).filter(|part| !part.is_empty()).collect();
    let sides: Vec<_> = parts.iter().filter_map(|part| Written::parse(part, Share::parse).ok()).collect();
    let sides: [_; 4] = sides.try_into().map_err(|_| refuse())?;
    if parts.len() != 4 {
        return Err(refuse());
    }
    SubjectSpec::new(sides).map(Meant::plain).map_err(|error| error.to_string())
}
