//! [`TypingProfile`]: what a person's program asks for, and the numbers to type into it.

use crate::fraction::nearest;
use crate::space::{Axes, Axis, Delivery, Factor, Rect, Size};
use crate::{DeliveryFrame, Exact, Insets, Plan, Rotation, Source};

/// What the program calls 100 %.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Hundred {
    /// One upright unit on one delivery line.
    Native,
    /// The picture as large as the raster allows.
    #[default]
    Fitted,
    /// The raster just filled.
    Filled,
}

impl Hundred {
    /// Every answer.
    pub const ALL: [Self; 3] = [Self::Native, Self::Fitted, Self::Filled];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Native => "native",
            Self::Fitted => "fitted",
            Self::Filled => "filled",
        }
    }
}

/// Where the squeeze and the pixel shape are set.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum SqueezeSet {
    /// On the clip: the program shows it with round circles.
    #[default]
    OnClip,
    /// Nowhere: width and height are scaled apart.
    Apart,
}

impl SqueezeSet {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::OnClip, Self::Apart];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::OnClip => "on_clip",
            Self::Apart => "apart",
        }
    }
}

/// When borders are cut off.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum BordersCut {
    /// Before the program scales: what is left is the picture.
    Before,
    /// After it, or not at all: the whole clip is the picture.
    #[default]
    After,
}

impl BordersCut {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::Before, Self::After];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Before => "before",
            Self::After => "after",
        }
    }
}

/// When a clip is turned upright.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Turned {
    /// First: the upright picture is fitted.
    #[default]
    First,
    /// Last: the clip is fitted as it lies.
    Last,
}

impl Turned {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::First, Self::Last];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::First => "first",
            Self::Last => "last",
        }
    }
}

/// From where to where a place is measured.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Zero {
    /// From the middle of the frame to the middle of the picture.
    #[default]
    Centre,
    /// From a corner of the frame to the middle of the picture.
    CornerToCentre,
    /// From a corner of the frame to the same corner of the picture.
    Corner,
}

impl Zero {
    /// Every answer.
    pub const ALL: [Self; 3] = [Self::Centre, Self::CornerToCentre, Self::Corner];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Centre => "centre",
            Self::CornerToCentre => "corner_to_centre",
            Self::Corner => "corner",
        }
    }
}

/// In what a place is measured.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum PlaceUnit {
    /// Delivery pixels.
    #[default]
    Pixels,
    /// Sides of the frame: 1/2 is the middle.
    Parts,
}

impl PlaceUnit {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::Pixels, Self::Parts];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Pixels => "pixels",
            Self::Parts => "parts",
        }
    }
}

/// Which way a place grows.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Upwards {
    /// Downwards; corners are at the top left.
    #[default]
    Down,
    /// Upwards; corners are at the bottom left.
    Up,
}

impl Upwards {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::Down, Self::Up];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Down => "down",
            Self::Up => "up",
        }
    }
}

/// Which turns are positive.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum TurnSign {
    /// Those that go with the clock.
    #[default]
    Clockwise,
    /// Those that go against it.
    Anticlockwise,
}

impl TurnSign {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::Clockwise, Self::Anticlockwise];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Clockwise => "clockwise",
            Self::Anticlockwise => "anticlockwise",
        }
    }
}

/// How a size is written.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum ZoomUnit {
    /// In percent.
    #[default]
    Percent,
    /// As a factor.
    Factor,
}

impl ZoomUnit {
    /// Every answer.
    pub const ALL: [Self; 2] = [Self::Percent, Self::Factor];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Percent => "percent",
            Self::Factor => "factor",
        }
    }
}

/// The most decimals that a program takes.
pub const MOST_DECIMALS: u32 = 6;

/// What a person's program asks for: answered once, kept under a name of their own.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TypingProfile {
    /// What it calls 100 %.
    pub hundred: Hundred,
    /// Where squeeze and pixel shape are set.
    pub squeeze: SqueezeSet,
    /// When borders are cut off.
    pub borders: BordersCut,
    /// When a clip is turned.
    pub turned: Turned,
    /// From where a place is measured.
    pub zero: Zero,
    /// In what.
    pub unit: PlaceUnit,
    /// Which way it grows.
    pub upwards: Upwards,
    /// Which turns are positive.
    pub turn_sign: TurnSign,
    /// How a size is written.
    pub zoom_unit: ZoomUnit,
    /// The decimals of a size, at most [`MOST_DECIMALS`].
    pub zoom_decimals: u32,
    /// The decimals of a place, at most [`MOST_DECIMALS`].
    pub place_decimals: u32,
}

impl Default for TypingProfile {
    fn default() -> Self {
        Self {
            hundred: Hundred::default(),
            squeeze: SqueezeSet::default(),
            borders: BordersCut::default(),
            turned: Turned::default(),
            zero: Zero::default(),
            unit: PlaceUnit::default(),
            upwards: Upwards::default(),
            turn_sign: TurnSign::default(),
            zoom_unit: ZoomUnit::default(),
            zoom_decimals: 2,
            place_decimals: 1,
        }
    }
}

/// Not one unit: that of the profile.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OfProfile {}

/// The numbers to type for a placement, in the order in which they are typed.
#[derive(Clone, Debug, PartialEq)]
pub struct ToType {
    /// Stored pixels to cut off each side; none where nothing is.
    pub cut: Option<Insets>,
    /// Degrees to turn by, from over -180 to 180; 0 for none.
    pub turn: i32,
    /// The size, across and down; one number serves both where [`Self::is_uniform`].
    pub zoom: Axes<OfProfile>,
    /// Whether width and height have the same size.
    pub is_uniform: bool,
    /// Whether width and height are those of the clip as it lies, before it is turned.
    pub as_it_lies: bool,
    /// The place.
    pub place: Axes<OfProfile>,
    /// The same with the decimals that the program takes.
    pub rounded: Rounded,
    /// The nearest numbers of as many decimals that leave nothing uncovered, where the rounded ones do.
    pub safe: Option<Rounded>,
}

/// Numbers with as many decimals as a program takes.
#[derive(Clone, Debug, PartialEq)]
pub struct Rounded {
    /// The size.
    pub zoom: Axes<OfProfile>,
    /// The place.
    pub place: Axes<OfProfile>,
    /// How many delivery pixels of the picture area are uncovered at a side that the plan covers, at most.
    pub uncovered: Exact,
    /// How much larger the picture is than planned, less 1: what is cut more for it.
    pub larger: Exact,
}

/// What a program holds of a clip, and how it measures it.
struct Held<'a> {
    profile: &'a TypingProfile,
    source: &'a Source,
    frame: &'a DeliveryFrame,
    /// The picture that it scales, turned upright, in lines as it takes them.
    picture: Size<crate::space::Upright>,
    /// Its 100 %, in delivery lines a unit.
    base: Exact,
    /// Where that picture lands, in delivery pixels.
    image: Rect<Delivery>,
    /// Width and height change places between what is typed and what is seen.
    swaps: bool,
}

impl ToType {
    /// The numbers to type for a plan of this source in this frame.
    ///
    /// ```
    /// use ratiomet_core::{typing::{ToType, TypingProfile}, *};
    /// // 240 columns of border at each side, squeezed twice, filling a scope frame.
    /// let source = Source::new(
    ///     Raster::new(1920, 1080)?,
    ///     PixelAspect::SQUARE,
    ///     Squeeze::parse("2")?,
    ///     Insets { left: 240, top: 0, right: 240, bottom: 0 },
    ///     Rotation::None,
    /// )?;
    /// let scope = DeliveryFrame::new(Raster::new(4096, 1716)?, PixelAspect::SQUARE, None, Step::Two)?;
    /// let plan = Plan::of(&source, &scope, &Framing::of(Method::Fill));
    /// let to_type = ToType::of(&TypingProfile::default(), &source, &scope, &plan);
    /// // Over the fit of the whole clip: 143/96.
    /// assert_eq!(to_type.zoom.x, Exact::fraction(14300, 96));
    /// assert_eq!(to_type.cut.map(|cut| cut.left), Some(240));
    /// # Ok::<(), Error>(())
    /// ```
    pub fn of(profile: &TypingProfile, source: &Source, frame: &DeliveryFrame, plan: &Plan) -> Self {
        let held = Held::of(profile, source, frame, plan);
        let (zoom, place) = held.read(&held.image);
        let is_uniform = zoom.x == zoom.y;
        let insets = source.insets();
        let rounded = held.rounded(plan, &zoom, &place, &zoom);
        let safe = (rounded.uncovered.is_positive()).then(|| held.safe(plan, &zoom, &place, is_uniform)).flatten();
        Self {
            cut: (insets != Insets::default()).then_some(insets),
            turn: turn(source.rotation(), profile.turn_sign),
            is_uniform,
            as_it_lies: held.swaps,
            zoom,
            place,
            rounded,
            safe,
        }
    }
}

fn turn(rotation: Rotation, sign: TurnSign) -> i32 {
    let clockwise = match rotation {
        Rotation::None => 0,
        Rotation::Quarter => 90,
        Rotation::Half => 180,
        Rotation::ThreeQuarters => -90,
    };
    match sign {
        TurnSign::Anticlockwise if clockwise != 180 => -clockwise,
        _ => clockwise,
    }
}

impl<'a> Held<'a> {
    fn of(profile: &'a TypingProfile, source: &'a Source, frame: &'a DeliveryFrame, plan: &Plan) -> Self {
        let whole = profile.borders == BordersCut::After;
        let stored = if whole { source.raster().size().turned(source.rotation()) } else { source.turned_active() };
        let picture = match profile.squeeze {
            SqueezeSet::OnClip if whole => source.whole_upright(),
            SqueezeSet::OnClip => source.upright(),
            // Stored pixels, taken as square.
            SqueezeSet::Apart => Size::new(stored.width.clone(), stored.height.clone()),
        };
        let lies = source.rotation().swaps_axes() && profile.turned == Turned::Last;
        let fitted = if lies { Size::new(picture.height.clone(), picture.width.clone()) } else { picture.clone() };
        let lines = frame.lines();
        let (across, down) = (&lines.width / &fitted.width, &lines.height / &fitted.height);
        let base = match profile.hundred {
            Hundred::Native => Exact::ONE,
            Hundred::Fitted => across.min(down),
            Hundred::Filled => across.max(down),
        };
        let image = if whole {
            let side = |axis| (stored.along(axis) * plan.scale.of(axis)).reduced();
            let corner = |axis| {
                let before = Exact::whole(source.cut_before(axis)) * plan.scale.of(axis);
                (plan.image.start(axis) - before).reduced()
            };
            Rect::new(corner(Axis::X), corner(Axis::Y), Size::new(side(Axis::X), side(Axis::Y)))
        } else {
            plan.image.clone()
        };
        let swaps = lies && profile.squeeze == SqueezeSet::Apart;
        Self { profile, source, frame, picture, base, image, swaps }
    }

    fn hundred(&self) -> Exact {
        match self.profile.zoom_unit {
            ZoomUnit::Percent => Exact::whole(100),
            ZoomUnit::Factor => Exact::ONE,
        }
    }

    /// The pixel aspect along an axis: how many lines a delivery pixel is long.
    fn lines_a_pixel(&self, axis: Axis) -> Exact {
        match axis {
            Axis::X => self.frame.pixel_aspect().value().clone(),
            Axis::Y => Exact::ONE,
        }
    }

    fn swapped<U>(&self, axes: Axes<U>) -> Axes<U> {
        if self.swaps { Axes::new(axes.y, axes.x) } else { axes }
    }

    /// Size and place of an image as the program calls them.
    fn read(&self, image: &Rect<Delivery>) -> (Axes<OfProfile>, Axes<OfProfile>) {
        let zoom = Axes::each(|axis| {
            let lines = image.size.along(axis) * self.lines_a_pixel(axis);
            (lines / (self.picture.along(axis) * &self.base) * self.hundred()).reduced()
        });
        let raster = self.frame.raster().size();
        let place = Axes::each(|axis| {
            let side = raster.along(axis);
            let up = axis == Axis::Y && self.profile.upwards == Upwards::Up;
            let from_start = match self.profile.zero {
                Zero::Centre => image.centre(axis) - side.half(),
                Zero::CornerToCentre => image.centre(axis),
                Zero::Corner => image.start(axis).clone(),
            };
            let pixels = match (up, self.profile.zero) {
                (false, _) => from_start,
                (true, Zero::Centre) => -from_start,
                (true, Zero::CornerToCentre) => side - from_start,
                (true, Zero::Corner) => side - image.end(axis),
            };
            match self.profile.unit {
                PlaceUnit::Pixels => pixels.reduced(),
                PlaceUnit::Parts => (pixels / side).reduced(),
            }
        });
        (self.swapped(zoom), place)
    }

    /// Where the picture lands when these numbers are typed: what [`Self::read`] reads from it.
    fn image(&self, zoom: &Axes<OfProfile>, place: &Axes<OfProfile>) -> Rect<Delivery> {
        let zoom = self.swapped(zoom.clone());
        let length = |axis| {
            let lines = zoom.of(axis) / self.hundred() * self.picture.along(axis) * &self.base;
            (lines / self.lines_a_pixel(axis)).reduced()
        };
        let raster = self.frame.raster().size();
        let size = Size::new(length(Axis::X), length(Axis::Y));
        let corner = |axis| {
            let side = raster.along(axis);
            let pixels = match self.profile.unit {
                PlaceUnit::Pixels => place.of(axis).clone(),
                PlaceUnit::Parts => place.of(axis) * side,
            };
            let up = axis == Axis::Y && self.profile.upwards == Upwards::Up;
            let half = size.along(axis).half();
            match (self.profile.zero, up) {
                (Zero::Centre, false) => side.half() + pixels - half,
                (Zero::Centre, true) => side.half() - pixels - half,
                (Zero::CornerToCentre, false) => pixels - half,
                (Zero::CornerToCentre, true) => side - pixels - half,
                (Zero::Corner, false) => pixels,
                (Zero::Corner, true) => side - pixels - size.along(axis),
            }
        };
        let (x, y) = (corner(Axis::X), corner(Axis::Y));
        Rect::new(x, y, size)
    }

    /// The part of a held image that is picture: without what is cut off the clip.
    fn active(&self, image: &Rect<Delivery>) -> Rect<Delivery> {
        if self.profile.borders == BordersCut::Before {
            return image.clone();
        }
        let stored = self.source.raster().size().turned(self.source.rotation());
        let active = self.source.turned_active();
        let scale: Axes<Factor> = Axes::each(|axis| image.size.along(axis) / stored.along(axis));
        let corner = |axis| image.start(axis) + Exact::whole(self.source.cut_before(axis)) * scale.of(axis);
        let side = |axis| active.along(axis) * scale.of(axis);
        Rect::new(corner(Axis::X), corner(Axis::Y), Size::new(side(Axis::X), side(Axis::Y)))
    }

    /// How much is uncovered at a side that the plan covers, at most.
    fn uncovered(&self, plan: &Plan, image: &Rect<Delivery>) -> Exact {
        let (image, area) = (self.active(image), plan.picture_area.rect());
        let mut most = Exact::ZERO;
        for axis in Axis::BOTH {
            let (first, last) = (area.start(axis), area.end(axis));
            if plan.image.start(axis) <= first {
                most = most.max(image.start(axis) - first);
            }
            if plan.image.end(axis) >= last {
                most = most.max(&last - image.end(axis));
            }
        }
        most.reduced()
    }

    /// Numbers of as many decimals as the program takes, from a size that may be a little larger than planned.
    fn rounded(
        &self,
        plan: &Plan,
        zoom: &Axes<OfProfile>,
        place: &Axes<OfProfile>,
        planned: &Axes<OfProfile>,
    ) -> Rounded {
        let zoom: Axes<OfProfile> = Axes::each(|axis| nearest(zoom.of(axis), self.profile.zoom_decimals));
        // A corner moves with the size: it is rounded for the size that is typed.
        let place = match self.profile.zero {
            Zero::Corner => {
                let centre = |axis| self.image.centre(axis);
                let sized = self.image(&zoom, place).size;
                let (x, y) = (centre(Axis::X) - sized.width.half(), centre(Axis::Y) - sized.height.half());
                self.read(&Rect::new(x, y, sized)).1
            }
            Zero::Centre | Zero::CornerToCentre => place.clone(),
        };
        let place: Axes<OfProfile> = Axes::each(|axis| nearest(place.of(axis), self.profile.place_decimals));
        let image = self.image(&zoom, &place);
        let uncovered = self.uncovered(plan, &image);
        let over = |axis: Axis| zoom.of(axis) / planned.of(axis) - Exact::ONE;
        let larger = over(Axis::X).max(over(Axis::Y)).reduced();
        Rounded { zoom, place, uncovered, larger }
    }

    /// The smallest size of so many decimals, not under the planned one, that leaves nothing uncovered.
    fn safe(&self, plan: &Plan, planned: &Axes<OfProfile>, place: &Axes<OfProfile>, uniform: bool) -> Option<Rounded> {
        // Places are rounded too: a few steps of the size make up for that.
        const STEPS: u32 = 40;
        let step = Exact::ONE / Exact::from(10_i64.pow(self.profile.zoom_decimals));
        let up = |value: &Exact| Exact::from((value / &step).ceil_whole()) * &step;
        let first: Axes<OfProfile> = Axes::each(|axis| up(planned.of(axis)));
        let try_at = |across: u32, down: u32| {
            let zoom = Axes::new(&first.x + &step * Exact::whole(across), &first.y + &step * Exact::whole(down));
            let rounded = self.rounded(plan, &zoom, place, planned);
            rounded.uncovered.is_zero().then_some(rounded)
        };
        let uniform = (0..STEPS).find_map(|more| try_at(more, more)).filter(|_| uniform);
        uniform.or_else(|| {
            // Apart, no axis is made larger than it must be.
            (0..STEPS).find_map(|all| (0..=all).find_map(|down| try_at(all - down, down)))
        })
    }
}
