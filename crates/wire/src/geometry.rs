//! Sources, frames and framings in requests, the same in single calculations and in projects.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{FrameSpec, FramingSpec, Placing, SourceSpec};
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::subject::{Share, SubjectSpec};
use ratiomet_core::{
    DeliveryFrame, DisplayRatio, Framing, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom,
};

use crate::describe::record;
use crate::whole::{StoredPixels, Whole};

/// Stored pixels at one side.
type Inset = Whole<0, { u32::MAX }, StoredPixels>;

record!(
    /// How footage is stored and what it shows.
    "SourceGeometry", "sources" for SourceSpec {
        /// Stored pixels across and down.
        raster: Raster<Stored> = Required, |source| source.raster();
        /// Width of one stored pixel over its height.
        pixel_aspect: Written<PixelAspect> = Default(r#""1""#), |source| source.pixel_aspect().clone();
        /// How many times the lens narrowed the picture.
        squeeze: Written<Squeeze> = Default(r#""1""#), |source| source.squeeze().clone();
        /// Stored pixels that are no picture; at least 2 must stay each way.
        active: Insets = Default(r#"{"left":0,"top":0,"right":0,"bottom":0}"#), |source| source.insets();
        /// Degrees clockwise to stand upright.
        rotation: Rotation = Default("0"), |source| source.rotation();
    }
    |raster, pixel_aspect, squeeze, active, rotation| {
        Ok(SourceSpec::new(raster, pixel_aspect, squeeze, active, rotation)?)
    }
);

record!(
    /// Stored pixels to leave off at each side.
    "ActiveInsets", "insets" for Insets {
        /// Off the left.
        left: Inset = Default("0"), |insets| Whole::new(insets.left);
        /// Off the top.
        top: Inset = Default("0"), |insets| Whole::new(insets.top);
        /// Off the right.
        right: Inset = Default("0"), |insets| Whole::new(insets.right);
        /// Off the bottom.
        bottom: Inset = Default("0"), |insets| Whole::new(insets.bottom);
    }
    |left, top, right, bottom| Ok(Insets { left: left.get(), top: top.get(), right: right.get(), bottom: bottom.get() })
);

record!(
    /// A frame to deliver.
    "DeliveryGeometry", "frames" for FrameSpec {
        /// Delivery pixels across and down.
        raster: Raster<Delivery> = Required, |frame| frame.frame().raster();
        /// Width of one delivery pixel over its height.
        pixel_aspect: Written<PixelAspect> = Default(r#""1""#), |frame| frame.pixel_aspect().clone();
        /// Ratio of the picture inside the raster; null when it fills the raster.
        picture_ratio: Option<Written<DisplayRatio>> = Default("null"), |frame| frame.picture_ratio().cloned();
        /// The grid for sides and bars, in pixels.
        step: Step = Default("2"), |frame| frame.frame().step();
    }
    |raster, pixel_aspect, picture_ratio, step| Ok(FrameSpec::new(raster, pixel_aspect, picture_ratio, step)?)
);

record!(
    /// Where the picture is put in the frame.
    "FramingValues", "framings" for Framing {
        /// The rule that sets the size.
        method: Method = Default(r#""fit""#), |framing| framing.method;
        /// Enlargement on top of the method.
        zoom: Zoom = Default(r#""1""#), |framing| framing.zoom.clone();
        /// Delivery pixels right and down from the centre of the picture area.
        shift: [Shift; 2] = Default(r#"["0","0"]"#), |framing| [framing.shift_x.clone(), framing.shift_y.clone()];
    }
    |method, zoom, [shift_x, shift_y]| Ok(Framing { method, zoom, shift_x, shift_y })
);

record!(
    /// Where a project puts a picture in a frame.
    "FramingChoice", "framings" for FramingSpec {
        /// How it is placed.
        method: Placing = Default(r#""fit""#), |framing| framing.method;
        /// Enlargement on top of the method.
        zoom: Written<Zoom> = Default(r#""1""#), |framing| framing.zoom.clone();
        /// Delivery pixels right and down from the centre of the picture area; around a subject, the place to
        /// stay near.
        shift: [Written<Shift>; 2] = Default(r#"["0","0"]"#),
            |framing| [framing.shift_x.clone(), framing.shift_y.clone()];
    }
    |method, zoom, [shift_x, shift_y]| Ok(FramingSpec { method, zoom, shift_x, shift_y })
);

record!(
    /// A box in shares of the upright picture, 0 to 1; x to the right, y downwards.
    "SubjectBox", "subjects" for SubjectSpec {
        /// Its left edge.
        x: Written<Share> = Required, |subject| subject.sides()[0].clone();
        /// Its upper edge.
        y: Written<Share> = Required, |subject| subject.sides()[1].clone();
        /// How wide it is, over 0.
        width: Written<Share> = Required, |subject| subject.sides()[2].clone();
        /// How high it is, over 0.
        height: Written<Share> = Required, |subject| subject.sides()[3].clone();
    }
    |x, y, width, height| Ok(SubjectSpec::new([x, y, width, height])?)
);

/// A frame with the framing of a picture in it.
#[derive(Clone, Debug)]
pub struct PlacedFrame {
    delivery: FrameSpec,
    framing: Framing,
}

record!(
    /// A frame with the framing of a picture in it.
    "PlacedFrame", "frames, each with its framing" for PlacedFrame {
        /// The frame.
        delivery: FrameSpec = Required, |placed| placed.delivery.clone();
        /// Where the picture is put; fit and centred when left out.
        framing: Framing = Default("{}"), |placed| placed.framing.clone();
    }
    |delivery, framing| Ok(PlacedFrame { delivery, framing })
);

impl PlacedFrame {
    /// What calculations take.
    pub(crate) fn parts(self) -> (DeliveryFrame, Framing) {
        (self.delivery.frame().clone(), self.framing)
    }

    /// The frame of these parts.
    pub(crate) fn of((frame, framing): (DeliveryFrame, Framing)) -> Self {
        Self { delivery: frame.into(), framing }
    }
}
