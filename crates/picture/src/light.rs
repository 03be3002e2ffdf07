//! [`Transfer`]: how code values and light belong together.

/// A transfer function, between code values and light, both from 0 to 1.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Transfer {
    /// IEC 61966-2-1, as stills for screens have it.
    #[default]
    Srgb,
    /// ITU-R BT.1886 with black at 0: what a display of video makes of code values, a power of 2.4.
    Bt1886,
    /// ITU-R BT.709, 1.2: what a camera makes of light.
    Bt709,
}

impl Transfer {
    /// Every transfer function.
    pub const ALL: [Self; 3] = [Self::Srgb, Self::Bt1886, Self::Bt709];

    /// The word for it.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Srgb => "srgb",
            Self::Bt1886 => "bt1886",
            Self::Bt709 => "bt709",
        }
    }

    /// Light of a code value.
    pub(crate) fn light(self, code: f32) -> f32 {
        match self {
            Self::Srgb if code <= 0.040_45 => code / 12.92,
            Self::Srgb => ((code + 0.055) / 1.055).powf(2.4),
            Self::Bt1886 => code.max(0.0).powf(2.4),
            Self::Bt709 if code < 0.081 => code / 4.5,
            Self::Bt709 => ((code + 0.099) / 1.099).powf(1.0 / 0.45),
        }
    }

    /// The code value of light.
    pub(crate) fn code(self, light: f32) -> f32 {
        match self {
            Self::Srgb if light <= 0.003_130_8 => light * 12.92,
            Self::Srgb => 1.055 * light.powf(1.0 / 2.4) - 0.055,
            Self::Bt1886 => light.max(0.0).powf(1.0 / 2.4),
            Self::Bt709 if light < 0.018 => light * 4.5,
            Self::Bt709 => 1.099 * light.powf(0.45) - 0.099,
        }
    }
}
