//! H.264: the sequence parameter set (ITU-T H.264, 7.3.2.1 and Annex E).

use h264_reader::avcc::AvcDecoderConfigurationRecord;
use h264_reader::nal::sps::{FrameMbsFlags, SeqParameterSet};
use h264_reader::nal::{Nal, RefNal};

use super::{Coded, clocked};

/// What a configuration record (ISO/IEC 14496-15) says.
pub(super) fn configuration(record: &[u8]) -> Option<Coded> {
    let context = AvcDecoderConfigurationRecord::try_from(record).ok()?.create_context().ok()?;
    context.sps().next().map(coded)
}

/// What a unit says, if it is a sequence parameter set.
pub(super) fn parameter_set(unit: &[u8]) -> Option<Coded> {
    SeqParameterSet::from_bits(RefNal::new(unit, &[], true).rbsp_bits()).ok().as_ref().map(coded)
}

fn coded(sps: &SeqParameterSet) -> Coded {
    let fields = !matches!(sps.frame_mbs_flags, FrameMbsFlags::Frames);
    let vui = sps.vui_parameters.as_ref();
    let shape = vui.and_then(|vui| vui.aspect_ratio_info.as_ref()).and_then(|info| info.get());
    let signal = vui.and_then(|vui| vui.video_signal_type.as_ref());
    let timing = vui.and_then(|vui| vui.timing_info.as_ref());
    Coded {
        raster: sps.pixel_dimensions().ok(),
        pixel_aspect: shape.map(|(across, down)| (u32::from(across), u32::from(down))),
        full_range: signal.map(|signal| signal.video_full_range_flag),
        interlaced: Some(fields),
        // A tick is the time of a field (E.2.1).
        rate: timing.and_then(|timing| clocked(timing.time_scale, timing.num_units_in_tick.checked_mul(2)?)),
    }
}
