//! [`Placement`]: how large a picture becomes in a frame.

use crate::space::{Axes, Axis, Delivery, Factor, Lines, Size, Upright};
use crate::{DeliveryFrame, Exact, Framing, Method};

/// The size of a picture in a frame before it is moved, and the scale that led to it.
pub(crate) struct Placement {
    /// Delivery lines per upright unit.
    pub units: Axes<Factor>,
    /// Delivery pixels across and down.
    pub size: Size<Delivery>,
}

impl Placement {
    pub fn of(upright: &Size<Upright>, frame: &DeliveryFrame, framing: &Framing) -> Self {
        let units = units(upright, &frame.picture_lines(), framing);
        let size = Size::new(
            (&upright.width * &units.x / frame.pixel_aspect().value()).kept_short(),
            (&upright.height * &units.y).kept_short(),
        );
        Self { units, size }
    }
}

/// How well an image of this size and an area match when centred: kept times covered.
pub(crate) fn match_with(image: &Size<Delivery>, area: &Size<Delivery>) -> Exact {
    let along = |axis| {
        let (image, area) = (image.along(axis), area.along(axis));
        if image < area { image / area } else { area / image }
    };
    along(Axis::X) * along(Axis::Y)
}

/// Delivery lines per upright unit on each axis, zoom included.
fn units(upright: &Size<Upright>, area: &Size<Lines>, framing: &Framing) -> Axes<Factor> {
    let across = || &area.width / &upright.width;
    let down = || &area.height / &upright.height;
    let same = |unit: Exact| (unit * framing.zoom.value()).kept_short();
    let unit = match framing.method {
        Method::Stretch => return Axes::new(same(across()), same(down())),
        Method::Fit => across().min(down()),
        Method::Fill => across().max(down()),
        Method::Width => across(),
        Method::Height => down(),
        Method::Native => Exact::ONE,
    };
    let unit = same(unit);
    Axes::new(unit.clone(), unit)
}
