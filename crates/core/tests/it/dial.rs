//! What is typed where a program holds the whole clip, or fits it before it turns it: worked by hand, and by
//! carrying the whole raster along.

use num_rational::BigRational;
use proptest::prelude::*;
use ratiomet_core::*;

use crate::inputs::{frame, framing, source};
use crate::numbers::{big, inputs};
use crate::reference;

// 720 by 576 with 8, 4, 10, 6 off shows 702 by 566 of it; filled into 702 by 566 the scale is 1. The whole clip
// is 720 by 576: it fits at 702/720 across, so 720/702 over fit; it lies 8 to the left and 4 above.
#[test]
fn what_is_cut_away_is_still_in_the_clip_that_a_program_holds() {
    let insets = Insets { left: 8, top: 4, right: 10, bottom: 6 };
    let raster = Raster::new(720, 576).expect("a raster");
    let tape = Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, insets, Rotation::None).expect("a source");
    let raster = Raster::new(702, 566).expect("a raster");
    let delivery = DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::Two).expect("a frame");
    let dial = Plan::of(&tape, &delivery, &Framing::of(Method::Fill)).dial;
    let text = |axes: &space::Axes<space::Factor>| (axes.x.to_string(), axes.y.to_string());
    assert_eq!(text(&dial.cut.sizes.over_fit), ("1".to_owned(), "1".to_owned()));
    // It fits at the smaller of 702/720 and 566/576.
    assert_eq!(text(&dial.uncut.sizes.over_fit), ("40/39".to_owned(), "40/39".to_owned()));
    assert_eq!(text(&dial.uncut.sizes.over_fill), ("288/283".to_owned(), "288/283".to_owned()));
    assert_eq!(
        (dial.uncut.top_left.x.clone(), dial.uncut.top_left.y.clone()),
        (Exact::fraction(-8, 1), Exact::fraction(-4, 1))
    );
    // Its middle is one pixel right and one line down of the picture's: 10 less 8, 6 less 4, half of each.
    assert_eq!((dial.uncut.centre_offset.x.clone(), dial.uncut.centre_offset.y.clone()), (Exact::ONE, Exact::ONE));
    assert_eq!(dial.unturned, dial.uncut.sizes);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(800))]

    /// The reference puts the whole raster where the picture lies; the numbers are those of that rectangle.
    #[test]
    fn the_whole_clip_lies_where_the_reference_puts_it(source in source(), frame in frame(), framing in framing()) {
        let dial = Plan::of(&source, &frame, &framing).dial;
        let inputs = inputs(&source, &frame, &framing);
        let whole = reference::whole_image(&inputs);
        let [width, height] = inputs.delivered.map(|side| BigRational::from_integer(side.into()));
        prop_assert_eq!(big(&dial.uncut.top_left.x), whole.left.clone());
        prop_assert_eq!(big(&dial.uncut.top_left.y), whole.top.clone());
        let two = BigRational::from_integer(2.into());
        prop_assert_eq!(big(&dial.uncut.centre_offset.x), (&whole.left + &whole.right - &width) / &two);
        prop_assert_eq!(big(&dial.uncut.centre_offset.y), (&whole.top + &whole.bottom - &height) / &two);
        // As large as it is over as large as it fits: the sides of that rectangle in lines.
        let lines = &width * &inputs.delivered_shape;
        let (across, down) = ((&whole.right - &whole.left) * &inputs.delivered_shape, &whole.bottom - &whole.top);
        let (ux, uy) = (big(&dial.native_percent.x), big(&dial.native_percent.y));
        let (clip_x, clip_y) = (across / &ux, down / &uy);
        let (fit_x, fit_y) = (&lines / &clip_x, &height / &clip_y);
        let (fit, fill) = if fit_x < fit_y { (fit_x, fit_y) } else { (fit_y, fit_x) };
        prop_assert_eq!(big(&dial.uncut.sizes.over_fit.x), &ux / &fit);
        prop_assert_eq!(big(&dial.uncut.sizes.over_fit.y), &uy / &fit);
        prop_assert_eq!(big(&dial.uncut.sizes.over_fill.x), &ux / &fill);
        // Without insets it is the same clip, and lying or upside down the same fit.
        if inputs.insets == [0; 4] {
            prop_assert_eq!(&dial.uncut, &dial.cut);
        }
        if inputs.degrees.is_multiple_of(180) {
            prop_assert_eq!(&dial.unturned, &dial.uncut.sizes);
        }
    }
}
