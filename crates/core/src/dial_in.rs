//! Dialling in: a placement from a number that an editing program shows, and what its rounding costs.

use crate::bounded::bounded;
use crate::error::Parameter;
use crate::fraction::Sign;
use crate::fraction::{nearest, writable};
use crate::placement::Placement;
use crate::rotation::StoredAxis;
use crate::space::{Axes, Axis, Delivery, Rect};
use crate::{DeliveryFrame, Error, Exact, Framing, Method, Plan, Shift, Source, Zoom, limits};

bounded! {
    /// A number typed into a dial, in the unit of its convention.
    ///
    /// # Guarantees
    /// At most 1,000,000,000 either way.
    Entered, limits::DIAL, Sign::Allowed
}

/// Not one unit: that of a convention, named beside it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OfConvention {}

/// The numbers of a convention, in its own unit.
pub type Dialled = Axes<OfConvention>;

/// A convention in which programs ask for a placement.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Convention {
    /// Percent, where 100 puts one upright unit on one delivery line.
    NativePercent,
    /// Multiples of the size at which the picture just fits the raster.
    OverFit,
    /// Multiples of the size at which the picture just fills the raster.
    OverFill,
    /// Multipliers across and up for a program that takes stored pixels as square and has fitted them.
    Uncorrected,
    /// From the raster's centre to the image's, delivery pixels right and down.
    CentreOffset,
    /// Where the image's centre lies, in sides of the raster from its top left corner: 1/2 for the middle.
    CentreShare,
    /// From the raster's top left corner to the image's, delivery pixels right and down.
    TopLeft,
    /// The same in sides of the raster.
    TopLeftShare,
    /// The corner of the window on the source, stored pixels from the raster's top left corner.
    WindowCorner,
    /// The size of the window on the source, stored pixels.
    WindowSize,
}

impl Convention {
    /// Every convention, in the order in which they are shown.
    pub const ALL: [Self; 10] = [
        Self::NativePercent,
        Self::OverFit,
        Self::OverFill,
        Self::Uncorrected,
        Self::CentreOffset,
        Self::CentreShare,
        Self::TopLeft,
        Self::TopLeftShare,
        Self::WindowCorner,
        Self::WindowSize,
    ];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::NativePercent => "native_percent",
            Self::OverFit => "over_fit",
            Self::OverFill => "over_fill",
            Self::Uncorrected => "uncorrected",
            Self::CentreOffset => "centre_offset",
            Self::CentreShare => "centre_share",
            Self::TopLeft => "top_left",
            Self::TopLeftShare => "top_left_share",
            Self::WindowCorner => "window_corner",
            Self::WindowSize => "window_size",
        }
    }

    /// Whether it is a size, which leaves the picture where it is.
    pub const fn is_scale(self) -> bool {
        matches!(self, Self::NativePercent | Self::OverFit | Self::OverFill | Self::Uncorrected)
    }
}

/// A number that somebody typed.
#[derive(Clone, Debug)]
pub struct Entry {
    /// In which convention.
    pub convention: Convention,
    /// On which axis: of the delivery, or of the stored raster for a window.
    pub axis: Axis,
    /// The number.
    pub value: Entered,
}

/// What a program's rounding does to a placement.
#[derive(Clone, Debug)]
pub struct RoundingCost {
    /// In which convention.
    pub convention: Convention,
    /// The rounded numbers.
    pub rounded: Dialled,
    /// How far an edge of the image lands from its place, in delivery pixels, at most.
    pub edge: Exact,
    /// How many delivery pixels of the picture area are uncovered at a side that the plan covers, at most.
    pub uncovered: Exact,
}

/// The numbers of a convention, for a program that holds the whole clip, turned; none for a window when the
/// picture misses the area.
pub fn reading(convention: Convention, plan: &Plan, frame: &DeliveryFrame) -> Option<Dialled> {
    let dial = &plan.dial;
    let raster = frame.raster().size();
    fn plain<U>(axes: &Axes<U>) -> Dialled {
        Axes::new(axes.x.clone(), axes.y.clone())
    }
    let share = |axes: &Axes<Delivery>, from: &Exact| Axes::each(|axis| from + axes.of(axis) / raster.along(axis));
    Some(match convention {
        Convention::NativePercent => plain(&dial.native_percent),
        Convention::OverFit => plain(&dial.uncut.sizes.over_fit),
        Convention::OverFill => plain(&dial.uncut.sizes.over_fill),
        Convention::Uncorrected => plain(&dial.uncut.uncorrected),
        Convention::CentreOffset => plain(&dial.uncut.centre_offset),
        Convention::CentreShare => share(&dial.uncut.centre_offset, &Exact::fraction(1, 2)),
        Convention::TopLeft => plain(&dial.uncut.top_left),
        Convention::TopLeftShare => share(&dial.uncut.top_left, &Exact::ZERO),
        Convention::WindowCorner => {
            let window = plan.window.as_ref()?;
            Axes::new(window.x.clone(), window.y.clone())
        }
        Convention::WindowSize => {
            let window = plan.window.as_ref()?;
            Axes::new(window.size.width.clone(), window.size.height.clone())
        }
    })
}

/// The framing for which a convention reads the number that was typed. A scale keeps the shift; a
/// place keeps the scale; the size of a window keeps what stands in its middle, as far as the travel
/// allows. Where the exact fraction is too long to be written, the nearest decimal that can be is taken.
///
/// # Errors
/// [`Error::is_range`] at `value` when the number is one that no framing gives; the text says which would do.
///
/// ```
/// use ratiomet_core::{dial_in::{Convention, Entered, Entry, framing_for}, space::Axis, *};
/// let source = Source::new(
///     Raster::new(3840, 2160)?,
///     PixelAspect::SQUARE,
///     Squeeze::NONE,
///     Insets::default(),
///     Rotation::None,
/// )?;
/// let hd = DeliveryFrame::new(Raster::new(1920, 1080)?, PixelAspect::SQUARE, None, Step::Two)?;
/// let typed = Entry { convention: Convention::NativePercent, axis: Axis::Y, value: Entered::parse("75")? };
/// let framing = framing_for(&source, &hd, &Framing::of(Method::Fit), &typed)?;
/// assert_eq!(framing.zoom.value(), &Exact::fraction(3, 2));
/// # Ok::<(), Error>(())
/// ```
pub fn framing_for(source: &Source, frame: &DeliveryFrame, framing: &Framing, entry: &Entry) -> Result<Framing, Error> {
    let plan = Plan::of(source, frame, framing);
    let Entry { convention, axis, ref value } = *entry;
    let value = value.value();
    let now = reading(convention, &plan, frame);
    let refuse = |low: &Exact, high: &Exact| Error::entry(low, high, value).at(Parameter::Value);
    if convention.is_scale() {
        let now = now.map_or(Exact::ONE, |axes| axes.of(axis).clone());
        let per_zoom = now / framing.zoom.value();
        let zoom = Zoom::new(writable(&(value / &per_zoom)))
            .map_err(|_| refuse(&(limits::ZOOM.low() * &per_zoom), &(limits::ZOOM.high() * &per_zoom)))?;
        return Ok(Framing { zoom, ..framing.clone() });
    }
    let shift = framing.shift();
    let area = plan.picture_area.rect();
    let raster = frame.raster().size();
    match (convention, now) {
        (Convention::WindowCorner, Some(now)) => {
            let StoredAxis { axis: along, backwards: against } = source.rotation().upright_along(axis);
            let active = source.active();
            let (begin, whole) = (active.start(axis), active.size.along(axis));
            let image = plan.image.size.along(along);
            let shown = whole * area.size.along(along) / image;
            if image < area.size.along(along) {
                return Err(refuse(now.of(axis), now.of(axis)));
            }
            let last = active.end(axis) - &shown;
            if value < begin || *value > last {
                return Err(refuse(begin, &last));
            }
            // The share of the picture that lies before the window, along the delivery's axis.
            let before = if against { active.end(axis) - value - shown } else { value - begin } / whole;
            let corner = area.start(along) - before * image;
            moved(framing, along, corner + image.half() - area.centre(along))
        }
        (Convention::WindowSize, Some(_)) => {
            let along = source.rotation().upright_along(axis).axis;
            let whole = source.active().size.along(axis).clone();
            if !value.is_positive() || *value > whole {
                return Err(refuse(&Exact::ZERO, &whole));
            }
            let wanted = area.size.along(along) * &whole / value;
            let factor = &wanted / plan.image.size.along(along);
            let zoom =
                Zoom::new(writable(&(framing.zoom.value() * factor))).map_err(|_| refuse(&Exact::ZERO, &whole))?;
            let factor = zoom.value() / framing.zoom.value();
            let zoomed = Framing { zoom, ..framing.clone() };
            let size = Placement::of(&source.upright(), frame, &zoomed).size;
            Axis::BOTH.into_iter().try_fold(zoomed, |framing, axis| {
                let travel = (size.along(axis) - area.size.along(axis)).abs().half();
                let held = within(shift.of(axis) * &factor, &travel);
                moved(&framing, axis, held)
            })
        }
        (_, Some(now)) => {
            let by = value - now.of(axis);
            let by = match convention {
                Convention::CentreShare | Convention::TopLeftShare => by * raster.along(axis),
                _ => by,
            };
            moved(framing, axis, shift.of(axis) + by)
        }
        (_, None) => Err(Error::no_window().at(Parameter::Value)),
    }
}

fn within(value: Exact, reach: &Exact) -> Exact {
    value.min(reach.clone()).max(-reach)
}

fn moved(framing: &Framing, axis: Axis, to: Exact) -> Result<Framing, Error> {
    let shift = Shift::new(writable(&to)).map_err(|error| error.at(Parameter::Value))?;
    Ok(match axis {
        Axis::X => Framing { shift_x: shift, ..framing.clone() },
        Axis::Y => Framing { shift_y: shift, ..framing.clone() },
    })
}

/// What it costs when a program keeps only so many decimals (0 to 4) of its numbers, for every
/// convention that can be read.
pub fn rounding_costs(source: &Source, frame: &DeliveryFrame, plan: &Plan, places: u32) -> Vec<RoundingCost> {
    let places = places.min(4);
    let cost = |convention| {
        let exact = reading(convention, plan, frame)?;
        let rounded = Axes::each(|axis| nearest(exact.of(axis), places));
        let image = image_of(convention, source, plan, frame, &exact, &rounded)?;
        let area = plan.picture_area.rect();
        let ends = |rect: &Rect<Delivery>, axis| [rect.start(axis).clone(), rect.end(axis)];
        let mut edge = Exact::ZERO;
        let mut uncovered = Exact::ZERO;
        for axis in Axis::BOTH {
            let [start, end] = ends(&image, axis);
            let [true_start, true_end] = ends(&plan.image, axis);
            let [first, last] = ends(&area, axis);
            edge = edge.max((&start - &true_start).abs()).max((&end - &true_end).abs());
            if true_start <= first {
                uncovered = uncovered.max(start - first);
            }
            if true_end >= last {
                uncovered = uncovered.max(last - end);
            }
        }
        Some(RoundingCost { convention, rounded, edge: edge.reduced(), uncovered: uncovered.reduced() })
    };
    Convention::ALL.into_iter().filter_map(cost).collect()
}

/// Where the image lands with the rounded numbers of one convention, all others exact.
fn image_of(
    convention: Convention,
    source: &Source,
    plan: &Plan,
    frame: &DeliveryFrame,
    exact: &Dialled,
    rounded: &Dialled,
) -> Option<Rect<Delivery>> {
    let image = &plan.image;
    let raster = frame.raster().size();
    // Corner and length along each axis.
    let along = |axis: Axis| -> Option<(Exact, Exact)> {
        let length = image.size.along(axis);
        let by = || rounded.of(axis) - exact.of(axis);
        Some(match convention {
            _ if convention.is_scale() => {
                // The whole clip grows about its own middle; what was cut away lies around the picture.
                let factor = rounded.of(axis) / exact.of(axis);
                let middle = raster.along(axis).half() + plan.dial.uncut.centre_offset.of(axis);
                (&middle + (image.start(axis) - &middle) * &factor, length * factor)
            }
            Convention::WindowCorner | Convention::WindowSize => {
                let StoredAxis { axis: stored, backwards: against } = source.rotation().stored_along(axis);
                let active = source.active();
                let per_stored = length / active.size.along(stored);
                if convention == Convention::WindowCorner {
                    let by = (rounded.of(stored) - exact.of(stored)) * per_stored;
                    (if against { image.start(axis) + by } else { image.start(axis) - by }, length.clone())
                } else {
                    // The rounded window fills what the exact one filled.
                    if rounded.of(stored).is_zero() {
                        return None;
                    }
                    let factor = exact.of(stored) / rounded.of(stored);
                    let area = plan.picture_area.rect();
                    let anchor = if against { area.end(axis) } else { area.start(axis).clone() };
                    (&anchor + (image.start(axis) - &anchor) * &factor, length * factor)
                }
            }
            Convention::CentreShare | Convention::TopLeftShare => {
                (image.start(axis) + by() * raster.along(axis), length.clone())
            }
            _ => (image.start(axis) + by(), length.clone()),
        })
    };
    let ((x, width), (y, height)) = (along(Axis::X)?, along(Axis::Y)?);
    Some(Rect::new(x, y, crate::space::Size::new(width, height)))
}

/// A framing carried to another conversion.
#[derive(Clone, Debug, PartialEq)]
pub struct Carried {
    /// The framing there.
    pub framing: Framing,
    /// Delivery pixels by which it falls short of the same place, because the picture ends there.
    pub short: Axes<Delivery>,
}

/// The framing that shows the same place of another picture, or of the same one in another frame: the
/// point in the middle of the area keeps its share of the picture, as far as the travel allows. What lay
/// past the travel before may lie past it there. At 1:1 it stays 1:1; any other zoom on native size keeps
/// the size of the picture in proportion to the area.
pub fn carried(
    (source, frame, framing): (&Source, &DeliveryFrame, &Framing),
    (to_source, to_frame): (&Source, &DeliveryFrame),
) -> Carried {
    let area = frame.picture_area().rect().size;
    let to_area = to_frame.picture_area().rect().size;
    let upright = (source.upright(), to_source.upright());
    let mut to_framing = framing.clone();
    if framing.method == Method::Native && framing.zoom != Zoom::NONE {
        let in_proportion =
            framing.zoom.value() * &to_area.height / &area.height * &upright.0.height / &upright.1.height;
        to_framing.zoom = Zoom::new(writable(&in_proportion)).unwrap_or_else(|_| framing.zoom.clone());
    }
    let size = Placement::of(&upright.0, frame, framing).size;
    let to_size = Placement::of(&upright.1, to_frame, &to_framing).size;
    let shift = framing.shift();
    let travel = |size: &crate::space::Size<Delivery>, area: &crate::space::Size<Delivery>, axis| {
        (size.along(axis) - area.along(axis)).abs().half()
    };
    let mut short = Axes::new(Exact::ZERO, Exact::ZERO);
    for axis in Axis::BOTH {
        let wanted = (shift.of(axis) * to_size.along(axis) / size.along(axis)).reduced();
        let end = travel(&to_size, &to_area, axis);
        let held = if shift.of(axis).abs() > travel(&size, &area, axis) {
            written_shift(&wanted)
        } else {
            let by = wanted.abs() - &end;
            if by.is_positive() {
                match axis {
                    Axis::X => short.x = by.reduced(),
                    Axis::Y => short.y = by.reduced(),
                }
            }
            shift_within(&wanted, &end)
        };
        match axis {
            Axis::X => to_framing.shift_x = held,
            Axis::Y => to_framing.shift_y = held,
        }
    }
    Carried { framing: to_framing, short }
}

/// A framing whose shift does not pass the travel that it has in this conversion.
pub fn held_within(source: &Source, frame: &DeliveryFrame, framing: &Framing) -> Framing {
    let size = Placement::of(&source.upright(), frame, framing).size;
    let area = frame.picture_area().rect().size;
    let shift = framing.shift();
    let held = |axis: Axis| {
        let end = (size.along(axis) - area.along(axis)).abs().half();
        (shift.of(axis).abs() > end).then(|| shift_within(shift.of(axis), &end))
    };
    Framing {
        shift_x: held(Axis::X).unwrap_or_else(|| framing.shift_x.clone()),
        shift_y: held(Axis::Y).unwrap_or_else(|| framing.shift_y.clone()),
        ..framing.clone()
    }
}

/// A shift as it can be written, no farther out than the travel: held inwards where its end is too long to be
/// written.
pub fn shift_within(value: &Exact, travel: &Exact) -> Shift {
    let end = writable(travel);
    let end = if end > *travel { (end - HAIR).max(Exact::ZERO) } else { end };
    written_shift(&within(writable(value), &end))
}

/// The finest that a number of twelve digits tells apart where shifts are that long.
const HAIR: Exact = Exact::fraction(1, 1_000_000);

fn written_shift(value: &Exact) -> Shift {
    Shift::new(writable(&within(value.clone(), &limits::SHIFT.high())))
        .expect("held to the bounds, where rounding keeps it")
}
