//! [`Role`]: what a column of a list holds.

use ratiomet_core::project::Aspect;
use ratiomet_wire::describe::words;

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

impl Role {
    /// What of a source it is, if it is read from where it stands.
    pub const fn aspect(self) -> Option<Aspect> {
        Some(match self {
            Self::Size | Self::Width | Self::Height => Aspect::Raster,
            Self::PixelAspect => Aspect::PixelAspect,
            Self::Squeeze => Aspect::Squeeze,
            Self::Insets | Self::Left | Self::Top | Self::Right | Self::Bottom => Aspect::Insets,
            Self::Rotation => Aspect::Rotation,
            Self::Rate => Aspect::Rate,
            Self::Scan => Aspect::Scan,
            Self::SignalRange => Aspect::SignalRange,
            Self::Projection => Aspect::Projection,
            Self::Name | Self::Note | Self::Subject => return None,
        })
    }
}

words!(
    /// What a column holds.
    "Role" for Role, Role::ALL, Role::word
);
