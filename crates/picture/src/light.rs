//! How code values and light belong together.

use ratiomet_core::resampling::Transfer;

/// Light of a code value.
pub(crate) fn light(transfer: Transfer, code: f32) -> f32 {
    match transfer {
        Transfer::Srgb if code <= 0.040_45 => code / 12.92,
        Transfer::Srgb => ((code + 0.055) / 1.055).powf(2.4),
        Transfer::Bt1886 => code.max(0.0).powf(2.4),
        Transfer::Bt709 if code < 0.081 => code / 4.5,
        Transfer::Bt709 => ((code + 0.099) / 1.099).powf(1.0 / 0.45),
    }
}

/// The code value of light.
pub(crate) fn code(transfer: Transfer, light: f32) -> f32 {
    match transfer {
        Transfer::Srgb if light <= 0.003_130_8 => light * 12.92,
        Transfer::Srgb => 1.055 * light.powf(1.0 / 2.4) - 0.055,
        Transfer::Bt1886 => light.max(0.0).powf(1.0 / 2.4),
        Transfer::Bt709 if light < 0.018 => light * 4.5,
        Transfer::Bt709 => 1.099 * light.powf(0.45) - 0.099,
    }
}
