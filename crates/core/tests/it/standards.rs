//! Rasters and pixel shapes against the standards that lay them down.

use ratiomet_core::published::{FRAMES, PIXEL_ASPECTS, RATIOS, SENSORS, SQUEEZES, near};
use ratiomet_core::*;

fn named(name: &str) -> &'static published::PublishedFrame {
    FRAMES.iter().find(|frame| frame.name == name).unwrap_or_else(|| panic!("no frame {name}"))
}

#[test]
fn rasters_are_those_of_the_standards() {
    #[track_caller]
    fn case(name: &str, width: u32, height: u32) {
        let frame = named(name);
        assert_eq!((frame.width, frame.height), (width, height), "{name}");
    }
    // Recommendation ITU-R BT.2020-2, Table 1: pixel count 7680x4320 and 3840x2160.
    case("UHD 8K", 7680, 4320);
    case("UHD", 3840, 2160);
    // Recommendation ITU-R BT.709-6: 1920 samples a line, 1080 active lines.
    case("HD", 1920, 1080);
    // SMPTE ST 296 (from memory): 1280x720.
    case("HD 720", 1280, 720);
    // SMPTE ST 428-1 (from memory): containers of 4096x2160 and 2048x1080.
    case("Cinema container 4K", 4096, 2160);
    case("Cinema container 2K", 2048, 1080);
    // Recommendation ITU-R BT.601-7: 720 luma samples a line; 576 and 480 active lines are common practice.
    case("SD 625 lines 4:3", 720, 576);
    case("SD 525 lines 4:3", 720, 480);
}

#[test]
fn every_published_frame_names_its_source_and_stands_once() {
    for (at, frame) in FRAMES.iter().enumerate() {
        assert!(!frame.source.is_empty(), "{}", frame.name);
        assert!(FRAMES[..at].iter().all(|other| other.name != frame.name), "{} stands twice", frame.name);
    }
}

#[test]
fn bt_2020_and_bt_709_pictures_are_16_to_9() {
    for name in ["UHD 8K", "UHD", "HD", "HD 720"] {
        assert_eq!(named(name).ratio(), Exact::fraction(16, 9), "{name}");
    }
}

#[test]
fn pixel_shapes_are_those_of_h264_table_e_1() {
    // ITU-T H.264, Table E-1, sample aspect ratio for aspect_ratio_idc 1 to 16.
    let table = [
        "1:1", "12:11", "10:11", "16:11", "40:33", "24:11", "20:11", "32:11", "80:33", "18:11", "15:11", "64:33",
        "160:99", "4:3", "3:2", "2:1",
    ];
    assert_eq!(PIXEL_ASPECTS.len(), table.len());
    for ((across, down), written) in PIXEL_ASPECTS.iter().zip(table) {
        let aspect = PixelAspect::parse(written).expect("within bounds");
        assert_eq!(aspect.value(), &(Exact::whole(*across) / Exact::whole(*down)), "{written}");
    }
}

#[test]
fn bt_601_pixels_show_their_pictures() {
    // With the shapes of Table E-1, 704 columns of a 625-line picture show exactly 4:3 or 16:9, and
    // 704 of a 525-line picture too (ITU-T H.264, Table E-1, examples of use).
    #[track_caller]
    fn case(height: u32, aspect: &str, ratio: (i32, u32)) {
        let raster = Raster::new(704, height).expect("a raster");
        let aspect = PixelAspect::parse(aspect).expect("a shape");
        let source = Source::new(raster, aspect, Squeeze::NONE, Insets::default(), Rotation::None).expect("a source");
        let upright = source.upright();
        assert_eq!(upright.width / upright.height, Exact::fraction(ratio.0, ratio.1));
    }
    case(576, "12:11", (4, 3));
    case(576, "16:11", (16, 9));
    case(480, "10:11", (4, 3));
    case(480, "40:33", (16, 9));
}

#[test]
fn a_published_frame_is_not_near_another() {
    for frame in FRAMES {
        assert!(near(frame.width, frame.height).is_none(), "{}", frame.name);
    }
    assert_eq!(near(3838, 2160).map(|frame| frame.name), Some("UHD"));
    assert_eq!(near(3000, 2000).map(|frame| frame.name), None);
}

// Frames of tables are looked up by ratio and by squeeze: an entry that no request accepts, or one out of
// its place, would be a hole in a table.
#[test]
fn entries_of_tables_are_sound_and_in_order() {
    let ratios: Vec<Exact> =
        RATIOS.iter().map(|entry| DisplayRatio::parse(entry.ratio).expect(entry.ratio).value().clone()).collect();
    assert!(ratios.windows(2).all(|pair| pair[0] < pair[1]), "{ratios:?}");
    assert!(RATIOS.iter().all(|entry| !entry.source.is_empty() && !entry.name.is_empty()));
    let squeezes: Vec<Exact> = SQUEEZES.iter().map(|text| Squeeze::parse(text).expect(text).value().clone()).collect();
    assert!(squeezes.windows(2).all(|pair| pair[0] < pair[1]), "{squeezes:?}");
    // A sensor is called by its sides: the raster that stands for it has exactly that ratio.
    for sensor in SENSORS {
        let [width, height] = sensor.raster;
        let named = DisplayRatio::parse(sensor.name).expect(sensor.name).value().clone();
        assert_eq!(named, Exact::whole(width) / Exact::whole(height), "{}", sensor.name);
    }
}
