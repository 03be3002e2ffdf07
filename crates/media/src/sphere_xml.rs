//! Panorama metadata in XML: the XMP of stills (namespace `GPano`) and the first generation of
//! spherical video metadata (namespace `GSpherical`), both public and from memory.

use quick_xml::Reader;
use quick_xml::events::Event;

use crate::reading::{Said, Sphere, Stereo};

/// The most XML that is looked at.
pub(crate) const LONGEST: usize = 256 << 10;

/// What XML says of a sphere; `None` where it does not say that it is one, or is damaged.
pub(crate) fn sphere(xml: &[u8], by: &str) -> Option<Said<Sphere>> {
    let text = std::str::from_utf8(xml.get(..xml.len().min(LONGEST))?).ok()?;
    let mut found = Names::default();
    let mut reader = Reader::from_str(text);
    let mut open = String::new();
    loop {
        match reader.read_event() {
            Ok(Event::Start(element) | Event::Empty(element)) => {
                open = local(element.name().as_ref());
                for attribute in element.attributes().flatten() {
                    found.take(&local(attribute.key.as_ref()), &attribute.value);
                }
            }
            Ok(Event::Text(text)) => found.take(&open, &text),
            Ok(Event::End(_)) => open.clear(),
            Ok(Event::Eof) | Err(_) => break,
            Ok(_) => {}
        }
    }
    let projection = found.projection.or_else(|| found.spherical.then(|| "equirectangular".to_owned()))?;
    let part_of = match found.full {
        [Some(width), Some(height)] => {
            let [left, top] = found.corner.map(Option::unwrap_or_default);
            Some([width, height, left, top])
        }
        _ => None,
    };
    Some(Said::new(Sphere { projection, stereo: found.stereo, right_first: false, part_of }, by))
}

/// What is said by its names.
#[derive(Default)]
struct Names {
    spherical: bool,
    projection: Option<String>,
    stereo: Stereo,
    full: [Option<u32>; 2],
    corner: [Option<u32>; 2],
}

impl Names {
    fn take(&mut self, name: &str, value: &str) {
        let value = value.trim();
        let number = || value.parse().ok();
        match name {
            "Spherical" => self.spherical |= value.eq_ignore_ascii_case("true"),
            "ProjectionType" if !value.is_empty() && value.len() < 40 => self.projection = Some(value.to_lowercase()),
            "StereoMode" if value == "top-bottom" => self.stereo = Stereo::TopBottom,
            "StereoMode" if value == "left-right" => self.stereo = Stereo::SideBySide,
            "FullPanoWidthPixels" => self.full[0] = number(),
            "FullPanoHeightPixels" => self.full[1] = number(),
            "CroppedAreaLeftPixels" => self.corner[0] = number(),
            "CroppedAreaTopPixels" => self.corner[1] = number(),
            _ => {}
        }
    }
}

fn local(name: &str) -> String {
    name.rsplit(':').next().unwrap_or_default().to_owned()
}
