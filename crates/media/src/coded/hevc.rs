//! HEVC: the sequence parameter set (ITU-T H.265, 7.3.2.2 and Annex E).

use std::num::NonZeroUsize;

use h264_reader::rbsp::{BitRead, BitReader, BitReaderError, ByteReader};

use super::{Coded, clocked, sample_aspect};
use crate::view::Words;

/// The kind of a unit that is a sequence parameter set.
const SEQUENCE: u8 = 33;
/// How long the head of a unit is.
const HEAD: NonZeroUsize = NonZeroUsize::new(2).expect("two is not zero");
/// The bytes of a configuration record (ISO/IEC 14496-15, 8.3.3) before its arrays.
const FIXED: usize = 22;
/// The number of a sample aspect that is written out.
const OWN_SHAPE: u8 = 255;

/// What a configuration record says.
pub(super) fn configuration(record: &[u8]) -> Option<Coded> {
    let mut rest = record.get(FIXED + 1..)?;
    for _ in 0..record[FIXED] {
        let (kind, count) = (rest.first()? & 0x3F, rest.be16(1));
        rest = rest.get(3..)?;
        for _ in 0..count {
            let end = 2 + usize::from(rest.be16(0));
            let unit = rest.get(2..end)?;
            if kind == SEQUENCE {
                return parameter_set(unit);
            }
            rest = &rest[end..];
        }
    }
    None
}

/// What a unit says, if it is a sequence parameter set.
pub(super) fn parameter_set(unit: &[u8]) -> Option<Coded> {
    if unit.first()? >> 1 & 0x3F != SEQUENCE {
        return None;
    }
    let mut set = Set { bits: BitReader::new(ByteReader::skipping_bytes(unit, HEAD)), layers: 0, order: 4 };
    set.read().ok().flatten()
}

/// A parameter set as it is read.
struct Set<R: BitRead> {
    bits: R,
    /// Layers in time above the first.
    layers: u32,
    /// How many bits tell the order of a picture.
    order: u32,
}

type Read<T> = Result<T, BitReaderError>;

impl<R: BitRead> Set<R> {
    fn flag(&mut self) -> Read<bool> {
        self.bits.read_bit("flag")
    }

    fn number(&mut self, bits: u32) -> Read<u32> {
        self.bits.read_var(bits, "number")
    }

    fn code(&mut self) -> Read<u32> {
        self.bits.read_ue("code")
    }

    fn codes(&mut self, count: usize) -> Read<()> {
        (0..count).try_for_each(|_| self.code().map(drop))
    }

    fn skip(&mut self, bits: u32) -> Read<()> {
        self.bits.skip(bits, "skipped")
    }

    /// The set up to the end of the timing of pictures; none where it cannot be.
    fn read(&mut self) -> Read<Option<Coded>> {
        self.skip(4)?;
        self.layers = self.number(3)?;
        self.skip(1)?;
        let (progressive, interlaced) = self.profile()?;
        self.code()?;
        let chroma = self.code()?;
        let apart = chroma == 3 && self.flag()?;
        let (width, height) = (self.code()?, self.code()?);
        let mut window = [0; 4];
        if self.flag()? {
            for side in &mut window {
                *side = self.code()?;
            }
        }
        // The window counts samples of colour (Table 6-1).
        let (across, down) = match chroma {
            1 => (2, 2),
            2 => (2, 1),
            _ => (1, 1),
        };
        let (across, down) = if apart { (1, 1) } else { (across, down) };
        let shown = |whole: u32, unit: u32, before: u32, after: u32| {
            whole.checked_sub(before.checked_add(after)?.checked_mul(unit)?)
        };
        let raster = shown(width, across, window[0], window[1]).zip(shown(height, down, window[2], window[3]));
        self.codes(2)?;
        self.order = self.code()?.saturating_add(4);
        if self.order > 16 {
            return Ok(None);
        }
        let all = self.flag()?;
        self.codes(3 * if all { self.layers as usize + 1 } else { 1 })?;
        self.codes(6)?;
        if self.flag()? && self.flag()? {
            self.scaling_lists()?;
        }
        self.skip(2)?;
        if self.flag()? {
            self.skip(8)?;
            self.codes(2)?;
            self.skip(1)?;
        }
        if self.pictures_referred_to()?.is_none() {
            return Ok(None);
        }
        self.skip(2)?;
        let mut coded = Coded { raster, ..Coded::default() };
        coded.interlaced = match (progressive, interlaced) {
            (false, true) => Some(true),
            (true, false) => Some(false),
            _ => None,
        };
        if self.flag()? {
            self.usability(&mut coded)?;
        }
        Ok(Some(coded))
    }

    /// The profile (7.3.3): whether all pictures are progressive, and whether all are interlaced.
    fn profile(&mut self) -> Read<(bool, bool)> {
        self.skip(8 + 32)?;
        let scan = (self.flag()?, self.flag()?);
        self.skip(2 + 43 + 1 + 8)?;
        let mut there = Vec::new();
        for _ in 0..self.layers {
            there.push((self.flag()?, self.flag()?));
        }
        if self.layers > 0 {
            self.skip(2 * (8 - self.layers))?;
        }
        for (profile, level) in there {
            self.skip(if profile { 88 } else { 0 } + if level { 8 } else { 0 })?;
        }
        Ok(scan)
    }

    /// The lists of how coefficients are scaled (7.3.4), which say nothing of the picture.
    fn scaling_lists(&mut self) -> Read<()> {
        for size in 0..4_u32 {
            for _ in 0..if size == 3 { 2 } else { 6 } {
                if self.flag()? {
                    for _ in 0..(1 << (4 + 2 * size)).min(64) + u32::from(size > 1) {
                        self.bits.read_se("coefficient")?;
                    }
                } else {
                    self.code()?;
                }
            }
        }
        Ok(())
    }

    /// The pictures that others refer to (7.3.7), which say nothing of the picture either; none where there
    /// are more than may be.
    fn pictures_referred_to(&mut self) -> Read<Option<()>> {
        let sets = self.code()?;
        if sets > 64 {
            return Ok(None);
        }
        let mut before = 0;
        for set in 0..sets {
            let mut now = 0;
            if set > 0 && self.flag()? {
                self.skip(1)?;
                self.code()?;
                for _ in 0..=before {
                    now += u32::from(self.flag()? || self.flag()?);
                }
            } else {
                now = self.code()?.saturating_add(self.code()?);
                for _ in 0..now.min(64) {
                    self.code()?;
                    self.skip(1)?;
                }
            }
            if now > 32 {
                return Ok(None);
            }
            before = now;
        }
        if self.flag()? {
            let count = self.code()?;
            if count > 32 {
                return Ok(None);
            }
            self.skip(count * (self.order + 1))?;
        }
        Ok(Some(()))
    }

    /// What is said of how pictures are to be shown (E.2.1).
    fn usability(&mut self, coded: &mut Coded) -> Read<()> {
        if self.flag()? {
            let number: u8 = self.bits.read_var(8, "aspect")?;
            coded.pixel_aspect =
                if number == OWN_SHAPE { Some((self.number(16)?, self.number(16)?)) } else { sample_aspect(number) };
        }
        if self.flag()? {
            self.skip(1)?;
        }
        if self.flag()? {
            self.skip(3)?;
            coded.full_range = Some(self.flag()?);
            if self.flag()? {
                self.skip(24)?;
            }
        }
        if self.flag()? {
            self.codes(2)?;
        }
        self.skip(1)?;
        // A stream of fields has each of them as a picture.
        let fields = self.flag()?;
        if fields {
            coded.interlaced = Some(true);
            coded.raster = coded.raster.map(|(width, height)| (width, height.saturating_mul(2)));
        }
        self.skip(1)?;
        if self.flag()? {
            self.codes(4)?;
        }
        if self.flag()? {
            let (ticks, second) = (self.number(32)?, self.number(32)?);
            coded.rate = ticks.checked_mul(if fields { 2 } else { 1 }).and_then(|ticks| clocked(second, ticks));
        }
        Ok(())
    }
}
