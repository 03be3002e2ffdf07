//! Questions about spheres and flat views out of them.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::space::Delivery;
use ratiomet_core::sphere::{EyeSize, FieldOfView, Latitude, Layout, Span, SphereViewRequest, Turn};
use ratiomet_core::{Exact, FrameRate, Step};

use super::parts::Parts;
use super::question::{Question, raster, size_text, value};
use super::time;
use super::words::{Key, Word};

/// A sphere that nobody named the size of (common practice).
const USUAL_SPHERE: u32 = 5760;

/// Whether a sphere is asked about.
pub(super) fn is_asked(parts: &Parts<'_>) -> bool {
    parts.any(&[Key::Sphere, Key::HalfSphere, Key::View, Key::Degrees, Key::TopBottom, Key::SideBySide])
        || parts.has(Key::PerDegree)
        || parts.count(|word| matches!(word, Word::Thousands(_))) > 0
        || is_view_of_a_size(parts)
}

/// "HD from 5760x2880 at 90": a frame twice as wide as high, and an angle.
fn is_view_of_a_size(parts: &Parts<'_>) -> bool {
    let spheres = parts.count(|word| matches!(word, Word::Size(size) if is_sphere(*size)));
    let angle = |text: &str| value(text).is_some_and(|value| value >= Exact::whole(20) && value < Exact::whole(180));
    let angles = parts.count(|word| matches!(word, Word::Number(text) if angle(text)));
    spheres == 1 && parts.sizes() == 2 && angles == 1
}

/// A sphere, or a flat view out of one.
pub(super) fn of(parts: &Parts<'_>) -> Option<Question> {
    let across = parts.count(|word| matches!(word, Word::Thousands(_)));
    let flat = parts.count(|word| matches!(word, Word::Size(size) if !is_sphere(*size)));
    let asks_sphere = parts.has_before(Key::Sphere, |word| matches!(word, Word::Size(_)));
    let from = parts.has(Key::From) && flat > 0 && !asks_sphere;
    let is_view = parts.any(&[Key::View, Key::Degrees])
        || parts.sizes() >= 2
        || is_view_of_a_size(parts)
        || (across > 0 && parts.sizes() > 0)
        || (parts.has(Key::Sphere) && from);
    if is_view { view(parts) } else { whole(parts) }
}

/// A frame that is twice as wide as high holds a sphere.
const fn is_sphere([width, height]: [u32; 2]) -> bool {
    width == height * 2
}

fn whole(parts: &Parts<'_>) -> Option<Question> {
    if let Some(fine) = parts.beside(Key::PerDegree) {
        let width = (value(fine)? * Exact::whole(360)).to_decimal(0).parse().ok()?;
        return Some(sphere_frame(
            format!("a sphere of {fine} pixels per degree"),
            width,
            Span::FULL,
            Layout::Mono,
            None,
        ));
    }
    let across = parts.beside(Key::Sphere).and_then(|text| text.parse::<u32>().ok());
    let across = across.or_else(|| parts.thousands()).or_else(|| parts.size().map(|[width, _]| width));
    let width = across.or_else(|| parts.pixels_over(180))?;
    let rate = parts.said_rate().or_else(|| parts.number().filter(|text| time::may_be_rate(text)));
    let (layout, words) = match (parts.has(Key::SideBySide), parts.has(Key::TopBottom)) {
        (true, _) => (Layout::SideBySide, ", two eyes side by side"),
        (_, true) => (Layout::TopBottom, ", two eyes one above the other"),
        _ => (Layout::default(), ""),
    };
    if parts.has(Key::HalfSphere) {
        // Cameras for half a sphere write both eyes side by side (common practice).
        let both = format!("half a sphere, two eyes side by side, {width} pixels wide together");
        let one = format!("half a sphere, one eye {width} pixels wide");
        let question = sphere_frame(both, width.div_ceil(2), Span::FRONT, Layout::SideBySide, rate);
        return Some(question.or_all(sphere_frame(one, width, Span::FRONT, layout, rate)));
    }
    Some(sphere_frame(format!("a sphere {width} pixels wide{words}"), width, Span::FULL, layout, rate))
}

fn sphere_frame(understood: String, width: u32, span: Span, layout: Layout, rate: Option<&str>) -> Question {
    Question::new(understood, || {
        // A width is held to what a side of a frame may be.
        raster::<Delivery>([width, 1])?;
        let rate = rate.map(FrameRate::spoken).transpose()?;
        Ok(Calculation::SphereFrame(EyeSize::Width(width), span, layout, Step::Two, rate))
    })
}

fn view(parts: &Parts<'_>) -> Option<Question> {
    let angle = parts.beside(Key::Degrees).or_else(|| parts.beside(Key::View));
    let across = parts.beside(Key::Sphere).and_then(|text| text.parse::<u32>().ok()).or_else(|| parts.thousands());
    let across = across.or_else(|| parts.pixels_over(360));
    let sphere = |width: u32| [width, width.div_ceil(2)];
    let mut noted = Vec::new();
    let mut usual_view = || {
        noted.push("a view of 1920×1080 is taken".to_owned());
        [1920, 1080]
    };
    let (eye, view) = match (parts.sizes(), across) {
        (2.., _) => {
            let reversed = parts.reversed();
            let (one, other) = (parts.size()?, parts.size()?);
            // Twice as wide as high is the sphere; else the direction tells. An 8K sphere is named by its width.
            let swap = match (is_sphere(one), is_sphere(other)) {
                (true, false) => false,
                (false, true) => true,
                _ => reversed,
            };
            let (eye, view) = if swap { (other, one) } else { (one, other) };
            (if is_sphere(eye) { eye } else { sphere(eye[0]) }, view)
        }
        (1, Some(width)) => (sphere(width), parts.size()?),
        (1, None) => {
            let size = parts.size()?;
            if is_sphere(size) {
                (size, usual_view())
            } else if parts.has(Key::From) && parts.has_before(Key::From, |word| matches!(word, Word::Size(_))) {
                // "A 90 degree view out of 8k": the size is the sphere.
                (sphere(size[0]), usual_view())
            } else {
                noted.push(format!("a sphere {USUAL_SPHERE} wide is taken"));
                (sphere(USUAL_SPHERE), size)
            }
        }
        (_, Some(width)) => (sphere(width), usual_view()),
        _ => return None,
    };
    let angle = angle.or_else(|| parts.number()).unwrap_or_else(|| {
        noted.push("a view 90° wide is taken".to_owned());
        "90"
    });
    let understood = format!("a {angle}° view, {}, out of a {} sphere", size_text(view), size_text(eye));
    let mut question = Question::new(understood, || {
        Ok(Calculation::SphereView(SphereViewRequest {
            eye: raster(eye)?,
            span: Span::FULL,
            view: raster(view)?,
            fov: FieldOfView::parse(angle)?,
            yaw: Turn::NONE,
            pitch: Latitude::NONE,
            roll: Turn::NONE,
        }))
    });
    question.remarks = noted;
    Some(question)
}
