//! Units that begin with start codes (ITU-T H.264 and H.265, Annex B; ITU-T H.262, 6.2.1).

/// The units of a stream, without their start codes.
pub(super) fn units(bytes: &[u8]) -> impl Iterator<Item = &[u8]> {
    let starts = |from: usize| {
        let rest = bytes.get(from..)?;
        rest.windows(3).position(|three| three == [0, 0, 1]).map(|at| from + at)
    };
    let mut next = starts(0);
    std::iter::from_fn(move || {
        let start = next? + 3;
        next = starts(start);
        Some(&bytes[start..next.unwrap_or(bytes.len())])
    })
}
