//! OpenEXR: the colours of the first layer, over display and data window together.

use std::io::Cursor;

use exr::image::{AnyChannel, FlatSamples};
use exr::meta::MetaData;
use exr::prelude::{ReadChannels, ReadLayers};
use image::{DynamicImage, ImageBuffer};
use ratiomet_media::exr_head;

use crate::Problem;
use crate::limits::room;

pub(crate) fn read(bytes: &[u8]) -> Result<DynamicImage, Problem> {
    let failed = |error: exr::error::Error| Problem::new(format!("this OpenEXR file cannot be read: {error}"));
    if !exr_head::is_plausible(Cursor::new(bytes)).is_ok_and(|plausible| plausible) {
        return Err(Problem::new("the header of this OpenEXR file is damaged, or holds more than 4096 attributes"));
    }
    let meta = MetaData::read_from_buffered(Cursor::new(bytes), false).map_err(failed)?;
    let header = meta.headers.first().ok_or_else(|| Problem::new("this OpenEXR file has no picture"))?;
    let channels = header.channels.list.len() as u64;
    let layer = header.layer_size;
    let side = |side: usize| u32::try_from(side).unwrap_or(u32::MAX);
    let data = [side(layer.width()), side(layer.height())];
    // Every channel of the layer is unpacked, and the picture is put together beside them.
    room(data, (u64::from(data[0]) * u64::from(data[1])).saturating_mul(4 * (channels + 4)))?;
    let window = header.shared_attributes.display_window;
    let image = layer_of(bytes).map_err(failed)?;
    let layer = &image.layer_data;
    let place = layer.attributes.layer_position;
    let (from, to) = (window.position, window.end());
    let left = i64::from(place.x()).min(i64::from(from.x()));
    let top = i64::from(place.y()).min(i64::from(from.y()));
    let ends = |place: i32, side: u32, window: i32| (i64::from(place) + i64::from(side)).max(i64::from(window));
    let across = ends(place.x(), data[0], to.x()) - left;
    let down = ends(place.y(), data[1], to.y()) - top;
    let whole = |side: i64| u32::try_from(side).unwrap_or(u32::MAX);
    let (width, height) = (whole(across), whole(down));
    let named = |name: &str| layer.channel_data.list.iter().find(|channel| channel.name.eq(name));
    let gray = named("Y");
    let colours: Vec<&AnyChannel<FlatSamples>> = match (named("R"), named("G"), named("B"), gray) {
        (Some(red), Some(green), Some(blue), _) => vec![red, green, blue],
        (_, _, _, Some(gray)) => vec![gray, gray, gray],
        _ => {
            return Err(Problem::new("the first layer of this OpenEXR file has neither channels R, G, B nor Y"));
        }
    };
    let alpha = named("A");
    let count = if alpha.is_some() { 4 } else { 3 };
    room([width, height], u64::from(width) * u64::from(height) * 4 * count as u64)?;
    let mut samples = vec![0.0_f32; width as usize * height as usize * count];
    let (x, y) = (usize::try_from(i64::from(place.x()) - left), usize::try_from(i64::from(place.y()) - top));
    let (x, y) = (x.unwrap_or(0), y.unwrap_or(0));
    for (channel, of) in colours.into_iter().chain(alpha).enumerate() {
        if of.sampling.x() != 1 || of.sampling.y() != 1 {
            return Err(Problem::new("channels of this OpenEXR file are subsampled; whole ones are read"));
        }
        for (at, value) in of.sample_data.values_as_f32().enumerate() {
            let (column, row) = (at % data[0] as usize, at / data[0] as usize);
            samples[((row + y) * width as usize + column + x) * count + channel] = value;
        }
    }
    let made = if count == 4 {
        ImageBuffer::from_raw(width, height, samples).map(DynamicImage::ImageRgba32F)
    } else {
        ImageBuffer::from_raw(width, height, samples).map(DynamicImage::ImageRgb32F)
    };
    made.ok_or_else(|| Problem::new("this OpenEXR file has fewer samples than its windows say"))
}

type Layer = exr::image::Layer<exr::image::AnyChannels<FlatSamples>>;

fn layer_of(bytes: &[u8]) -> exr::error::Result<exr::image::Image<Layer>> {
    exr::prelude::read()
        .no_deep_data()
        .largest_resolution_level()
        .all_channels()
        .first_valid_layer()
        .all_attributes()
        .from_buffered(Cursor::new(bytes))
}
