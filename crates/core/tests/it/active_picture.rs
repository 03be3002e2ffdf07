//! Active pictures: known guides, a search through all candidates, promises.

use proptest::prelude::*;
use ratiomet_core::active_picture::{ActivePicture, keeping_ratio, stretch};
use ratiomet_core::fraction::Written;
use ratiomet_core::space::Stored;
use ratiomet_core::*;

fn raster(width: u32, height: u32) -> Raster<Stored> {
    Raster::new(width, height).expect("a raster")
}

fn guide(ratio: &str) -> ActivePicture {
    ActivePicture::Guide { ratio: Written::parse(ratio, DisplayRatio::parse).expect("a ratio") }
}

fn left(raster: Raster<Stored>, insets: Insets) -> (u32, u32) {
    (raster.width() - insets.left - insets.right, raster.height() - insets.top - insets.bottom)
}

#[track_caller]
fn guided(ratio: &str, size: (u32, u32), pixel_aspect: &str, expected: (u32, u32)) {
    let pixel_aspect = PixelAspect::parse(pixel_aspect).expect("a shape");
    let raster = raster(size.0, size.1);
    let insets = guide(ratio).insets_for(raster, &pixel_aspect).expect("a picture").expect("for any raster");
    assert_eq!(left(raster, insets), expected, "{ratio} inside {size:?}");
}

// Common practice: a 2x lens is framed for 4:3, of which twice the width is 2.67.
#[test]
fn guides_by_ratio_cut_the_frame_that_a_lens_was_framed_for() {
    guided("4:3", (3840, 2160), "1", (2880, 2160));
    guided("4:3", (1920, 1080), "1", (1440, 1080));
    guided("6:5", (4096, 2160), "1", (2592, 2160));
    // Higher than the guide: cut above and below.
    guided("16:9", (4608, 3164), "1", (4608, 2592));
    guided("1", (1080, 1920), "1", (1080, 1080));
    // The shape of the pixels counts, a lens squeeze does not.
    guided("4:3", (720, 576), "16:11", (528, 576));
    // Exactly the raster's ratio: nothing is cut.
    guided("16:9", (3840, 2160), "1", (3840, 2160));
    // Odd numbers are left out.
    guided("2.39", (3840, 2160), "1", (3840, 1606));
}

#[test]
fn a_guide_that_leaves_nothing_says_so() {
    let error = guide("100").insets_for(raster(50, 50), &PixelAspect::SQUARE).expect_err("nothing is left");
    assert!(error.is_nothing_left(), "{error}");
}

#[test]
fn insets_are_for_their_own_raster_alone() {
    let insets = Insets { left: 8, top: 4, right: 10, bottom: 6 };
    let kept = |keep_ratio| ActivePicture::Insets { raster: raster(720, 576), insets, keep_ratio };
    let square = PixelAspect::SQUARE;
    assert_eq!(kept(false).insets_for(raster(720, 576), &square).expect("a picture"), Some(insets));
    assert_eq!(kept(false).insets_for(raster(720, 480), &square).expect("no error"), None);
    let keeping = kept(true).insets_for(raster(720, 576), &square).expect("a picture").expect("its raster");
    assert_eq!(left(raster(720, 576), keeping), (700, 560));
    // A raster whose sides share no factor has no smaller one of its ratio.
    let prime = ActivePicture::Insets { raster: raster(719, 577), insets, keep_ratio: true };
    assert!(prime.insets_for(raster(719, 577), &square).expect_err("none").is_nothing_left());
}

#[test]
fn the_stretch_says_which_way_things_widen() {
    let hd = raster(1920, 1080);
    // Cut at the sides alone, what is left is narrower than the raster: filling it widens things.
    assert!(stretch(hd, Insets { left: 20, right: 20, ..Insets::default() }).is_negative());
    assert!(stretch(hd, Insets { top: 20, ..Insets::default() }).is_positive());
    assert!(stretch(hd, Insets { left: 32, top: 18, ..Insets::default() }).is_zero());
    assert_eq!(stretch(hd, Insets { left: 960, ..Insets::default() }), Exact::fraction(-1, 2));
}

fn bordered() -> impl Strategy<Value = (Raster<Stored>, Insets)> {
    ((8_u32..=160, 8_u32..=160), (0_u32..12, 0_u32..12, 0_u32..12, 0_u32..12)).prop_filter_map(
        "something is left",
        |((width, height), (left, top, right, bottom))| {
            let sound = left + right + 2 <= width && top + bottom + 2 <= height;
            sound.then(|| (raster(width, height), Insets { left, top, right, bottom }))
        },
    )
}

proptest! {
    #[test]
    fn keeping_the_ratio_is_the_best_of_all_candidates((raster, insets) in bordered()) {
        let room = left(raster, insets);
        let same_ratio = |w: u32, h: u32| u64::from(w) * u64::from(raster.height()) == u64::from(h) * u64::from(raster.width());
        let candidates = (1..=room.0).flat_map(|w| (1..=room.1).map(move |h| (w, h))).filter(|(w, h)| same_ratio(*w, *h));
        let best = candidates.max_by_key(|(w, h)| w * h);
        let found = keeping_ratio(raster, insets);
        prop_assert_eq!(found.map(|found| left(raster, found)), best);
        if let Some(found) = found {
            // No border comes back, and what is cut more stands on both sides alike.
            prop_assert!(found.left >= insets.left && found.top >= insets.top);
            prop_assert!(found.right >= insets.right && found.bottom >= insets.bottom);
            prop_assert!((found.right - insets.right) - (found.left - insets.left) <= 1);
            prop_assert!((found.bottom - insets.bottom) - (found.top - insets.top) <= 1);
            prop_assert!(stretch(raster, found).is_zero());
        }
    }

    #[test]
    fn a_guide_is_the_largest_even_cut_that_is_not_wider(width in 16_u32..6000, height in 16_u32..4000, of in 1_u32..40, to in 1_u32..40) {
        let raster = raster(width, height);
        let ratio = DisplayRatio::parse(&format!("{of}:{to}")).expect("a ratio");
        let Ok(Some(insets)) = guide(&format!("{of}:{to}")).insets_for(raster, &PixelAspect::SQUARE) else {
            return Ok(());
        };
        let (w, h) = left(raster, insets);
        let ratio = ratio.value();
        // One side is whole, the other within two pixels below what the ratio asks for.
        if h == height {
            let asked = Exact::from(i64::from(height)) * ratio;
            prop_assert!(Exact::from(i64::from(w)) <= asked && Exact::from(i64::from(w) + 2) > asked);
        } else {
            prop_assert_eq!(w, width);
            let asked = Exact::from(i64::from(width)) / ratio;
            prop_assert!(Exact::from(i64::from(h)) <= asked && Exact::from(i64::from(h) + 2) > asked);
        }
        prop_assert!(insets.right.abs_diff(insets.left) <= 1 && insets.bottom.abs_diff(insets.top) <= 1);
    }
}
