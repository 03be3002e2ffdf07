//! What coded pictures say of themselves: the headers of their streams, whatever file they are in.

mod annex_b;
mod av1;
mod dv;
mod h264;
mod hevc;
mod mpeg2;
mod mpeg4;
mod prores;
mod units;
mod vp9;

pub(crate) use annex_b::{Coding, stream};
pub(crate) use dv::{DV_HEAD, dv};

use ratiomet_core::published::PIXEL_ASPECTS;

use crate::reading::{Reading, Said, lowest};

/// What the header of a stream says. What it does not say is `None`.
#[derive(Debug, Default, PartialEq, Eq)]
pub(crate) struct Coded {
    /// Pixels across and down, what is padding left out.
    pub raster: Option<(u32, u32)>,
    /// Width to height of a pixel.
    pub pixel_aspect: Option<(u32, u32)>,
    /// Whether code values run over all their range.
    pub full_range: Option<bool>,
    /// Whether lines belong to two moments.
    pub interlaced: Option<bool>,
    /// Frames a second.
    pub rate: Option<(u32, u32)>,
}

/// The configuration of an H.264 stream, as files keep it.
pub(crate) fn avc_configuration(record: &[u8]) -> Option<Coded> {
    h264::configuration(record)
}

/// The configuration of an HEVC stream, as files keep it.
pub(crate) fn hevc_configuration(record: &[u8]) -> Option<Coded> {
    hevc::configuration(record)
}

/// The configuration of an AV1 stream, as files keep it.
pub(crate) fn av1_configuration(record: &[u8]) -> Option<Coded> {
    av1::configuration(record)
}

/// The first frame of a VP9 stream.
pub(crate) fn vp9_frame(frame: &[u8]) -> Option<Coded> {
    vp9::frame(frame)
}

/// The first frame of a ProRes stream.
pub(crate) fn prores_frame(frame: &[u8]) -> Option<Coded> {
    prores::frame(frame)
}

/// The head of an MPEG-4 part 2 stream.
pub(crate) fn mpeg4_head(head: &[u8]) -> Option<Coded> {
    mpeg4::head(head)
}

/// The head of an MPEG-1 or MPEG-2 stream.
pub(crate) fn mpeg2_head(head: &[u8]) -> Option<Coded> {
    mpeg2::head(head)
}

impl Coded {
    /// Tells a reading what the stream says: what its file has not said, and where the two differ. A rate is
    /// taken where the file has none.
    pub fn tell(self, reading: &mut Reading) {
        if let Some(raster) = self.raster {
            let words = |(width, height): &(u32, u32)| format!("{width}x{height}");
            let said = Said::new(raster, "the stream");
            reading.second(|reading| &mut reading.raster, "the stored size", said, words);
        }
        if let Some((across, down)) = self.pixel_aspect.filter(|(across, down)| *across > 0 && *down > 0) {
            if let Some(said) = &mut reading.pixel_aspect {
                said.value = lowest(said.value.0, said.value.1);
            }
            let words = |(across, down): &(u32, u32)| format!("{across}:{down}");
            let said = Said::new(lowest(across, down), "the stream's sample aspect");
            reading.second(|reading| &mut reading.pixel_aspect, "the pixel aspect", said, words);
        }
        if let Some(full) = self.full_range {
            let words = |full: &bool| if *full { "full" } else { "narrow" }.to_owned();
            reading.second(|reading| &mut reading.full_range, "the signal range", Said::new(full, "the stream"), words);
        }
        if let Some(interlaced) = self.interlaced {
            let words = |interlaced: &bool| if *interlaced { "interlaced" } else { "progressive" }.to_owned();
            let said = Said::new(interlaced, "the stream");
            reading.second(|reading| &mut reading.interlaced, "the scan", said, words);
        }
        if let (None, Some(rate)) = (&reading.rate, self.rate) {
            reading.rate = Some(Said::new(rate, "the stream"));
        }
    }
}

/// A side as it is kept; none for one that cannot be.
fn side(value: u64) -> Option<u32> {
    u32::try_from(value).ok()
}

/// Ticks of a clock to a second over ticks to a picture, as a rate.
fn clocked(ticks_a_second: u32, ticks_a_picture: u32) -> Option<(u32, u32)> {
    if ticks_a_second == 0 || ticks_a_picture == 0 {
        return None;
    }
    let exact = lowest(ticks_a_second, ticks_a_picture);
    // A clock without an exact length for the rate gives a fraction nobody meant.
    Some(if exact.1 <= 1001 {
        exact
    } else {
        crate::reading::known_rate(f64::from(ticks_a_second) / f64::from(ticks_a_picture))
    })
}

/// The sample aspect of a number (ITU-T H.264, Table E-1; ITU-T H.265, Table E.1), from 1.
fn sample_aspect(number: u8) -> Option<(u32, u32)> {
    PIXEL_ASPECTS.get(usize::from(number).checked_sub(1)?).copied()
}
