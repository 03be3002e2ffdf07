//! What rate alone does not say of a signal: [`Scan`], [`SignalRange`] and [`Projection`], and what is to be done
//! where they differ.

/// Whether a picture holds all its lines at one moment.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Scan {
    /// All lines belong to one moment.
    #[default]
    Progressive,
    /// Odd and even lines belong to two moments.
    Interlaced,
}

impl Scan {
    /// Both ways.
    pub const ALL: [Self; 2] = [Self::Progressive, Self::Interlaced];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Progressive => "progressive",
            Self::Interlaced => "interlaced",
        }
    }
}

/// Which code values stand for black and white.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum SignalRange {
    /// 16 to 235 of 255, with head and foot room (ITU-R BT.709, narrow range).
    #[default]
    Narrow,
    /// 0 to 255 of 255.
    Full,
}

impl SignalRange {
    /// Both ranges.
    pub const ALL: [Self; 2] = [Self::Narrow, Self::Full];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Narrow => "narrow",
            Self::Full => "full",
        }
    }
}

/// What a source may leave unsaid of its signal.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Signal {
    /// Whether it is progressive or interlaced.
    Scan,
    /// Which code values it uses.
    Range,
}

/// What is to be done where black and white have other code values in the frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum RangePlan {
    /// Nobody has said.
    #[default]
    Open,
    /// The values are converted.
    Convert,
    /// The values stay, and the file says which they are.
    Declare,
}

impl RangePlan {
    /// Every plan.
    pub const ALL: [Self; 3] = [Self::Open, Self::Convert, Self::Declare];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Open => "open",
            Self::Convert => "convert",
            Self::Declare => "declare",
        }
    }
}

/// What is shown between the frames of the source where the frame has another rate.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum RatePlan {
    /// Nobody has said; frames are dropped or repeated until somebody does.
    #[default]
    Open,
    /// Frames are dropped or repeated.
    Drop,
    /// Neighbouring frames are blended.
    Blend,
}

impl RatePlan {
    /// Every plan.
    pub const ALL: [Self; 3] = [Self::Open, Self::Drop, Self::Blend];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Open => "open",
            Self::Drop => "drop",
            Self::Blend => "blend",
        }
    }
}

/// What a picture is of.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Projection {
    /// A flat picture.
    #[default]
    Flat,
    /// A sphere unrolled: longitude across, latitude down.
    Sphere,
}

impl Projection {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Flat, Self::Sphere];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Flat => "flat",
            Self::Sphere => "sphere",
        }
    }
}
