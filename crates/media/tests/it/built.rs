//! Headers built by hand from the standards: what ffmpeg does not write.

use ratiomet_media::{Failure, Reading, Stereo, read};

fn boxed(kind: &[u8; 4], content: &[u8]) -> Vec<u8> {
    let mut all = u32::try_from(content.len() + 8).expect("short").to_be_bytes().to_vec();
    all.extend(kind);
    all.extend(content);
    all
}

fn words(values: &[u32]) -> Vec<u8> {
    values.iter().flat_map(|value| value.to_be_bytes()).collect()
}

/// A movie of one track: 1920 by 1080, boxes behind the sample entry, boxes in the track, its matrix.
fn movie(entry: &[u8], track: &[u8], matrix: [i32; 9]) -> Vec<u8> {
    let mut fixed = vec![0; 24];
    fixed.extend(1920_u16.to_be_bytes());
    fixed.extend(1080_u16.to_be_bytes());
    fixed.resize(78, 0);
    fixed.extend(entry);
    let mut stsd = words(&[0, 1]);
    stsd.extend(boxed(b"apcn", &fixed));
    let stts = words(&[0, 2, 99, 1001, 1, 40]);
    let stbl = [boxed(b"stsd", &stsd), boxed(b"stts", &stts)].concat();
    let mut hdlr = vec![0; 8];
    hdlr.extend(b"vide");
    let mdia = [
        boxed(b"mdhd", &words(&[0, 0, 0, 24_000, 100_100])),
        boxed(b"hdlr", &hdlr),
        boxed(b"minf", &boxed(b"stbl", &stbl)),
    ]
    .concat();
    let mut tkhd = vec![0; 40];
    tkhd.extend(matrix.iter().flat_map(|value| value.to_be_bytes()));
    tkhd.extend(words(&[1920 << 16, 1080 << 16]));
    let trak = [boxed(b"tkhd", &tkhd), boxed(b"mdia", &mdia), track.to_vec()].concat();
    [boxed(b"ftyp", b"isom\0\0\0\0"), boxed(b"moov", &boxed(b"trak", &trak))].concat()
}

const ONE: i32 = 65_536;
const UPRIGHT: [i32; 9] = [ONE, 0, 0, 0, ONE, 0, 0, 0, 1 << 30];

fn reading(file: &[u8]) -> Reading {
    read(file).expect("a reading")
}

// ISO/IEC 14496-12, 12.1.4: width, height and the offset of the middle, as fractions (from memory).
#[test]
fn a_clean_aperture_becomes_insets() {
    let clap = |values: &[u32; 8]| movie(&boxed(b"clap", &words(values)), &[], UPRIGHT);
    let insets = |file: &[u8]| reading(file).insets.map(|said| said.value);
    assert_eq!(insets(&clap(&[1888, 1, 1062, 1, 0, 1, 0, 1])), Some([16, 9, 16, 9]));
    assert_eq!(insets(&clap(&[1888, 1, 1080, 1, (-8_i32).cast_unsigned(), 1, 0, 1])), Some([8, 0, 24, 0]));
    assert_eq!(insets(&clap(&[3776, 2, 1080, 1, 16, 2, 0, 1])), Some([24, 0, 8, 0]));
    // The whole picture is no inset; what cannot be is told.
    assert_eq!(insets(&clap(&[1920, 1, 1080, 1, 0, 1, 0, 1])), None);
    for bad in [[1888, 0, 1080, 1, 0, 1, 0, 1], [4000, 1, 1080, 1, 0, 1, 0, 1], [1888, 1, 1080, 1, 900, 1, 0, 1]] {
        let reading = reading(&clap(&bad));
        assert!(reading.insets.is_none() && reading.remarks.len() == 1, "{reading:?}");
    }
    let cut = reading(&clap(&[1889, 1, 1080, 1, 0, 1, 0, 1]));
    assert_eq!(cut.insets.map(|said| said.value), Some([15, 0, 15, 0]));
    assert!(cut.remarks[0].contains("whole pixels"));
}

#[test]
fn most_frames_tell_the_rate() {
    assert_eq!(reading(&movie(&[], &[], UPRIGHT)).rate.map(|said| said.value), Some((24_000, 1001)));
}

#[test]
fn a_matrix_turns_or_is_told() {
    let turned = |matrix: [i32; 9]| reading(&movie(&[], &[], matrix));
    let turn = |matrix| turned(matrix).rotation.map(|said| said.value);
    assert_eq!(turn(UPRIGHT), Some(0));
    assert_eq!(turn([0, ONE, 0, -ONE, 0, 0, 0, 0, 1 << 30]), Some(90));
    assert_eq!(turn([-ONE, 0, 0, 0, -ONE, 0, 0, 0, 1 << 30]), Some(180));
    assert_eq!(turn([0, -ONE, 0, ONE, 0, 0, 0, 0, 1 << 30]), Some(270));
    let mirrored = turned([-ONE, 0, 0, 0, ONE, 0, 0, 0, 1 << 30]);
    assert!(mirrored.rotation.is_none() && mirrored.remarks[0].contains("mirrors"), "{mirrored:?}");
}

#[test]
fn both_generations_of_spherical_metadata_are_read() {
    let uuid = [0xFF, 0xCC, 0x82, 0x63, 0xF8, 0x55, 0x4A, 0x93, 0x88, 0x14, 0x58, 0x7A, 0x02, 0x52, 0x1F, 0xDD];
    let xml = br#"<?xml version="1.0"?><rdf:SphericalVideo xmlns:rdf="r" xmlns:GSpherical="g">
        <GSpherical:Spherical>true</GSpherical:Spherical><GSpherical:ProjectionType>equirectangular</GSpherical:ProjectionType>
        <GSpherical:StereoMode>top-bottom</GSpherical:StereoMode></rdf:SphericalVideo>"#;
    let first = reading(&movie(&[], &boxed(b"uuid", &[&uuid[..], xml].concat()), UPRIGHT));
    let sphere = first.sphere.expect("a sphere").value;
    assert_eq!((sphere.projection.as_str(), sphere.stereo), ("equirectangular", Stereo::TopBottom));

    let equi = boxed(b"equi", &words(&[0, 0, 0, 1 << 30, 1 << 30]));
    let sv3d = boxed(b"sv3d", &boxed(b"proj", &equi));
    let st3d = boxed(b"st3d", &[0, 0, 0, 0, 2]);
    let second = reading(&movie(&[st3d.clone(), sv3d].concat(), &[], UPRIGHT));
    let sphere = second.sphere.expect("a sphere").value;
    assert_eq!((sphere.projection.as_str(), sphere.stereo), ("equirectangular", Stereo::SideBySide));
    // A quarter outside at left and right: each eye's picture, half of the frame, is the middle half of 1920.
    assert_eq!(sphere.part_of, Some([1920, 1080, 480, 0]));
    // Whichever of the two stands first.
    let sv3d = boxed(b"sv3d", &boxed(b"proj", &boxed(b"equi", &words(&[0, 0, 0, 1 << 30, 1 << 30]))));
    let turned = reading(&movie(&[sv3d, st3d.clone()].concat(), &[], UPRIGHT)).sphere.expect("a sphere").value;
    assert_eq!(turned, sphere);
    // Two eyes without a sphere are told.
    let flat = reading(&movie(&st3d, &[], UPRIGHT));
    assert!(flat.sphere.is_none() && flat.remarks[0].contains("Two eyes"), "{flat:?}");
}

#[test]
fn a_shape_that_only_the_shown_size_tells_is_suggested() {
    let mut file = movie(&[], &[], UPRIGHT);
    let at = file
        .windows(8)
        .position(|eight| eight == [1920_u32 << 16, 1080 << 16].map(u32::to_be_bytes).concat())
        .expect("sizes");
    file[at..at + 4].copy_from_slice(&(2560_u32 << 16).to_be_bytes());
    let reading = reading(&file);
    assert!(reading.pixel_aspect.is_none());
    assert!(reading.remarks[0].contains("4:3"), "{:?}", reading.remarks);
}

/// The orientation of EXIF in a JPEG of 40 by 30.
fn jpeg(orientation: u16, xmp: &str) -> Vec<u8> {
    let mut exif = b"Exif\0\0MM\0*\0\0\0\x08\0\x01".to_vec();
    exif.extend([0x01, 0x12, 0, 3, 0, 0, 0, 1]);
    exif.extend(orientation.to_be_bytes());
    exif.extend([0, 0, 0, 0, 0, 0]);
    let segment = |marker: u8, content: &[u8]| {
        let length = u16::try_from(content.len() + 2).expect("short").to_be_bytes();
        [&[0xFF, marker][..], &length, content].concat()
    };
    let mut file = vec![0xFF, 0xD8];
    file.extend(segment(0xE1, &exif));
    if !xmp.is_empty() {
        file.extend(segment(0xE1, &[b"http://ns.adobe.com/xap/1.0/\0", xmp.as_bytes()].concat()));
    }
    file.extend(segment(0xC2, &[8, 0, 30, 0, 40, 1, 1, 0x11, 0]));
    file
}

#[test]
fn exif_orientation_is_a_turn() {
    for (orientation, turn) in [(1, 0), (3, 180), (6, 90), (8, 270)] {
        let reading = reading(&jpeg(orientation, ""));
        assert_eq!(reading.rotation.expect("a turn").value, turn);
        assert_eq!(reading.raster.expect("a size").value, (40, 30));
        assert!(reading.remarks.is_empty());
    }
    assert!(reading(&jpeg(5, "")).remarks[0].contains("mirrors"));
}

/// A JPEG of 40 by 30 with a density.
fn jfif(unit: u8, across: u16, down: u16) -> Vec<u8> {
    let mut file = vec![0xFF, 0xD8, 0xFF, 0xE0, 0, 16];
    file.extend(b"JFIF\0\x01\x02");
    file.push(unit);
    file.extend([across.to_be_bytes(), down.to_be_bytes()].concat());
    file.extend([0, 0, 0xFF, 0xC0, 0, 11, 8, 0, 30, 0, 40, 1, 1, 0x11, 0]);
    file
}

// ITU-T T.871, 10.1: both numbers are densities, so the shape is height over width.
#[test]
fn the_density_of_a_jpeg_is_how_many_pixels_there_are_to_a_length() {
    let shape = |file: &[u8]| reading(file).pixel_aspect.map(|said| said.value);
    assert_eq!(shape(&jfif(0, 1, 2)), Some((2, 1)));
    assert!(reading(&jfif(0, 1, 2)).remarks[0].contains("mean 1:2"));
    assert_eq!(shape(&jfif(1, 72, 144)), Some((2, 1)));
    assert!(reading(&jfif(0, 1, 1)).remarks.is_empty());
    // What rounding has made is square.
    assert_eq!(shape(&jfif(1, 300, 299)), Some((1, 1)));
    assert_eq!(shape(&jfif(2, 118, 119)), Some((1, 1)));
    assert_eq!(shape(&jfif(1, 300, 290)), Some((29, 30)));
}

/// A tag of TIFF: its number, its kind, its values.
type Tag = (u16, u16, Vec<u32>);

/// A directory of TIFF at a position, values that do not fit behind it.
fn directory(at: usize, tags: &[Tag]) -> Vec<u8> {
    let mut head = u16::try_from(tags.len()).expect("few").to_le_bytes().to_vec();
    let mut behind = Vec::new();
    let start = at + 2 + tags.len() * 12 + 4;
    for (tag, kind, values) in tags {
        let bytes: Vec<u8> = match kind {
            3 => values.iter().flat_map(|value| u16::try_from(*value).expect("short").to_le_bytes()).collect(),
            _ => values.iter().flat_map(|value| value.to_le_bytes()).collect(),
        };
        let count = values.len() / if matches!(kind, 5 | 10) { 2 } else { 1 };
        head.extend([tag.to_le_bytes(), kind.to_le_bytes()].concat());
        head.extend(u32::try_from(count).expect("few").to_le_bytes());
        if bytes.len() <= 4 {
            head.extend([&bytes[..], &[0; 4][bytes.len()..]].concat());
        } else {
            head.extend(u32::try_from(start + behind.len()).expect("short").to_le_bytes());
            behind.extend(bytes);
        }
    }
    head.extend([0; 4]);
    [head, behind].concat()
}

/// A DNG whose first directory is a small preview, as cameras write it.
pub fn dng() -> Vec<u8> {
    let below = 1024;
    let first = directory(
        8,
        &[
            (254, 4, vec![1]),
            (256, 4, vec![256]),
            (257, 4, vec![171]),
            (274, 3, vec![6]),
            (330, 4, vec![below]),
            (50_706, 4, vec![0x0401]),
            (51_044, 10, vec![24_000, 1001]),
        ],
    );
    let raw = directory(
        1024,
        &[
            (254, 4, vec![0]),
            (256, 4, vec![4096]),
            (257, 4, vec![2200]),
            (262, 3, vec![32_803]),
            (50_718, 5, vec![2, 1, 1, 1]),
            (50_719, 4, vec![8, 4]),
            (50_720, 4, vec![4000, 2160]),
            (50_829, 4, vec![20, 40, 2200, 4096]),
        ],
    );
    let mut file = b"II*\0\x08\0\0\0".to_vec();
    file.extend(first);
    file.resize(1024, 0);
    file.extend(raw);
    file
}

#[test]
fn a_raw_still_is_as_large_as_its_full_size_picture() {
    let read = reading(&dng());
    assert_eq!((read.format, read.raster.expect("a size").value), ("DNG", (4096, 2200)));
    // The active area begins at 40, 20; the crop in it at 8, 4.
    assert_eq!(read.insets.expect("insets").value, [48, 24, 48, 16]);
    assert_eq!(read.rotation.expect("a turn").value, 90);
    assert_eq!(read.pixel_aspect.expect("a shape").value, (2, 1));
    assert_eq!(read.rate.expect("a rate").value, (24_000, 1001));
}

/// A still of ISO/IEC 23008-12: properties, and those of the first item.
fn heif(properties: &[Vec<u8>], of_item: &[u8]) -> Vec<u8> {
    let mut ipma = words(&[0, 1]);
    ipma.extend([0, 1, u8::try_from(of_item.len()).expect("few")]);
    ipma.extend(of_item);
    let iprp = [boxed(b"ipco", &properties.concat()), boxed(b"ipma", &ipma)].concat();
    let meta = [vec![0; 4], boxed(b"pitm", &[0, 0, 0, 0, 0, 1]), boxed(b"iprp", &iprp)].concat();
    [boxed(b"ftyp", b"heic\0\0\0\0"), boxed(b"meta", &meta)].concat()
}

#[test]
fn the_properties_of_a_still_are_those_of_its_item() {
    let size = |width: u32, height: u32| boxed(b"ispe", &words(&[0, width, height]));
    let properties = [
        size(512, 512),
        size(4032, 3024),
        boxed(b"irot", &[3]),
        boxed(b"pasp", &words(&[4, 3])),
        boxed(b"colr", b"nclx\0\x01\0\x01\0\x01\x80"),
        boxed(b"clap", &words(&[4000, 1, 3000, 1, 0, 1, 0, 1])),
    ];
    let read = reading(&heif(&properties, &[2, 0x83, 4, 5, 6]));
    assert_eq!((read.format, read.raster.expect("a size").value), ("HEIC", (4032, 3024)));
    // Three quarters against the clock are one with it.
    assert_eq!(read.rotation.expect("a turn").value, 90);
    assert_eq!(read.pixel_aspect.expect("a shape").value, (4, 3));
    assert!(read.full_range.expect("a range").value);
    assert_eq!(read.insets.expect("insets").value, [16, 12, 16, 12]);
    assert!(reading(&heif(&[size(64, 48), boxed(b"imir", &[1])], &[1, 2])).remarks[0].contains("mirrored"));
}

#[test]
fn a_movie_that_is_turned_turns_its_track() {
    let turned_movie = |matrix: [i32; 9], track: [i32; 9]| {
        let mut mvhd = vec![0; 36];
        mvhd.extend(matrix.iter().flat_map(|value| value.to_be_bytes()));
        let file = movie(&[], &[], track);
        let at = file.windows(4).position(|four| four == b"trak").expect("a track") - 4;
        [boxed(b"ftyp", b"isom\0\0\0\0"), boxed(b"moov", &[boxed(b"mvhd", &mvhd), file[at..].to_vec()].concat())]
            .concat()
    };
    let quarter = [0, ONE, 0, -ONE, 0, 0, 0, 0, 1 << 30];
    let turn = |movie, track| reading(&turned_movie(movie, track)).rotation.map(|said| said.value);
    assert_eq!(turn(UPRIGHT, quarter), Some(90));
    assert_eq!(turn(quarter, UPRIGHT), Some(90));
    assert_eq!(turn(quarter, quarter), Some(180));
}

#[test]
fn words_of_ffprobe_are_taken_with_care() {
    let stream = |more: &str| {
        let text = format!(r#"{{"streams":[{{"codec_type":"video","width":640,"height":360,{more}}}]}}"#);
        reading(text.as_bytes())
    };
    // The lowest rate that fits all times may be the clock.
    let varies = stream(r#""r_frame_rate":"90000/1","avg_frame_rate":"30000/1001""#);
    assert_eq!(varies.rate.expect("a rate").value, (30_000, 1001));
    assert!(varies.remarks[0].contains("Variable"), "{:?}", varies.remarks);
    // Fields counted, evenly.
    let fields = stream(r#""r_frame_rate":"50/1","avg_frame_rate":"25/1""#);
    assert_eq!((fields.rate.expect("a rate").value, fields.remarks.len()), ((25, 1), 0));
    assert_eq!(stream(r#""r_frame_rate":"0/0","avg_frame_rate":"25/1""#).rate.expect("a rate").value, (25, 1));
    assert_eq!(stream(r#""tags":{"rotate":"270"}"#).rotation.expect("a turn").value, 270);
    let cover = r#"{"streams":[{"codec_type":"video","width":600,"height":600,"disposition":{"attached_pic":1}},
        {"codec_type":"video","width":1920,"height":1080}]}"#;
    assert_eq!(reading(cover.as_bytes()).raster.expect("a size").value, (1920, 1080));
}

#[test]
fn panorama_metadata_of_stills_is_read() {
    let xmp = r#"<x:xmpmeta xmlns:x="x"><rdf:RDF xmlns:rdf="r"><rdf:Description xmlns:GPano="g"
        GPano:ProjectionType="equirectangular" GPano:FullPanoWidthPixels="80" GPano:FullPanoHeightPixels="40"
        GPano:CroppedAreaLeftPixels="20" GPano:CroppedAreaTopPixels="5"/></rdf:RDF></x:xmpmeta>"#;
    let sphere = reading(&jpeg(1, xmp)).sphere.expect("a sphere").value;
    assert_eq!((sphere.projection.as_str(), sphere.part_of), ("equirectangular", Some([80, 40, 20, 5])));
    assert!(reading(&jpeg(1, "<broken")).sphere.is_none());
}

/// A scan line image header of OpenEXR with windows and a pixel aspect.
fn open_exr(data: [i32; 4], display: [i32; 4], aspect: f32) -> Vec<u8> {
    let mut file = vec![0x76, 0x2F, 0x31, 0x01, 2, 0, 0, 0];
    let mut attribute = |name: &str, kind: &str, value: &[u8]| {
        file.extend([name.as_bytes(), b"\0", kind.as_bytes(), b"\0"].concat());
        file.extend(i32::try_from(value.len()).expect("short").to_le_bytes());
        file.extend(value);
    };
    let ints = |values: &[i32]| values.iter().flat_map(|value| value.to_le_bytes()).collect::<Vec<u8>>();
    let channel = [&b"Y\0"[..], &ints(&[1, 0, 1, 1]), b"\0"].concat();
    attribute("channels", "chlist", &channel);
    attribute("compression", "compression", &[0]);
    attribute("dataWindow", "box2i", &ints(&data));
    attribute("displayWindow", "box2i", &ints(&display));
    attribute("lineOrder", "lineOrder", &[0]);
    attribute("pixelAspectRatio", "float", &aspect.to_le_bytes());
    attribute("screenWindowCenter", "v2f", &[0; 8]);
    attribute("screenWindowWidth", "float", &1.0_f32.to_le_bytes());
    file.push(0);
    file
}

#[test]
fn the_windows_of_open_exr_become_raster_and_insets() {
    let same = reading(&open_exr([0, 0, 1919, 1079], [0, 0, 1919, 1079], 2.0));
    assert_eq!((same.raster.expect("a size").value, same.insets), ((1920, 1080), None));
    assert_eq!(same.pixel_aspect.expect("a shape").value, (2, 1));
    // Overscan: more is stored than is meant to be seen.
    let over = reading(&open_exr([-60, -40, 1979, 1119], [0, 0, 1919, 1079], 1.0));
    assert_eq!(over.raster.expect("a size").value, (2040, 1160));
    assert_eq!(over.insets.expect("insets").value, [60, 40, 60, 40]);
    // A part only: a render cut to where it holds anything is no border, but somebody may know better.
    let part = reading(&open_exr([100, 50, 1819, 999], [0, 0, 1919, 1079], 1.5));
    assert_eq!((part.raster.expect("a size").value, part.insets), ((1920, 1080), None));
    assert!(part.remarks[0].contains("enter insets of 100/50/100/80"), "{:?}", part.remarks);
    assert_eq!(part.pixel_aspect.expect("a shape").value, (3, 2));
    // Both: overscan at the left, empty at the right.
    let both = reading(&open_exr([-60, 0, 1819, 1079], [0, 0, 1919, 1079], 1.0));
    assert_eq!((both.raster.expect("a size").value, both.insets.expect("insets").value), ((1980, 1080), [60, 0, 0, 0]));
}

#[test]
fn what_is_no_footage_is_refused_in_words() {
    let refused = |file: &[u8]| match read(file) {
        Err(Failure::Unreadable(why)) => why,
        other => panic!("{other:?}"),
    };
    assert_eq!(refused(b""), "the file is empty");
    assert!(refused(b"a text").starts_with("this format is not read"));
    assert!(refused(&boxed(b"ftyp", b"isom\0\0\0\0")).contains("no index (moov)"));
    assert!(refused(b"{\"format\": 1}").contains("has no streams"));
    assert!(refused(br#"{"streams":[{"codec_type":"audio"}]}"#).contains("has no picture"));
    assert!(refused(b"YUV4MPEG2 W0 H5 F25:1\n").contains("each side must be 1 to 65,536"));
    let sound = [boxed(b"ftyp", b"isom\0\0\0\0"), boxed(b"moov", &boxed(b"trak", &boxed(b"mdia", &[])))].concat();
    assert!(refused(&sound).contains("has no picture"));
}
