//! Files that are damaged or mean harm.

use ratiomet_picture::Still;

use crate::support::{busy, still};

fn sound() -> Vec<(&'static str, Vec<u8>)> {
    let mut random = fastrand::Rng::with_seed(1);
    let picture = still(busy(40, 30, &mut random).into());
    let (mut png, mut exr) = (Vec::new(), std::io::Cursor::new(Vec::new()));
    picture.write_png(&mut png).expect("written");
    picture.write_exr(&mut exr).expect("written");
    let mut files = vec![("PNG", png), ("OpenEXR", exr.into_inner())];
    for (name, format) in
        [("JPEG", image::ImageFormat::Jpeg), ("TIFF", image::ImageFormat::Tiff), ("WebP", image::ImageFormat::WebP)]
    {
        let mut bytes = std::io::Cursor::new(Vec::new());
        picture.samples.write_to(&mut bytes, format).expect("written");
        files.push((name, bytes.into_inner()));
    }
    let mut dpx = vec![0; 2048 + 40 * 30 * 4];
    dpx[..4].copy_from_slice(b"SDPX");
    for (at, value) in [(4, 2048_u32), (772, 40), (776, 30), (808, 2048)] {
        dpx[at..at + 4].copy_from_slice(&value.to_be_bytes());
    }
    (dpx[800], dpx[803], dpx[805]) = (50, 10, 1);
    files.push(("DPX", dpx));
    files
}

#[test]
fn damaged_files_are_refused_or_read_and_never_panic() {
    let mut random = fastrand::Rng::with_seed(3);
    for (name, whole) in sound() {
        assert_eq!(Still::read(&whole).unwrap_or_else(|problem| panic!("{name}: {problem}")).size(), [40, 30]);
        for _ in 0..300 {
            let mut bytes = whole.clone();
            for _ in 0..random.usize(1..12) {
                // Headers are where harm is done.
                let most = if random.bool() { bytes.len() } else { bytes.len().min(1200) };
                let at = random.usize(0..most);
                bytes[at] = random.u8(..);
            }
            if random.bool() {
                bytes.truncate(random.usize(0..bytes.len()));
            }
            if let Err(problem) = Still::read(&bytes) {
                assert!(!problem.to_string().is_empty());
            }
        }
    }
}

#[test]
fn a_picture_that_says_it_is_vast_takes_no_memory() {
    let mut png = sound().remove(0).1;
    // 65,535 by 65,535 pixels of three bytes.
    png[16..20].copy_from_slice(&65_535_u32.to_be_bytes());
    png[20..24].copy_from_slice(&65_535_u32.to_be_bytes());
    let sum = crc(&png[12..29]);
    png[29..33].copy_from_slice(&sum.to_be_bytes());
    let refused = Still::read(&png).expect_err("too large").to_string();
    assert!(refused.contains("at most 2048 MB are read"), "{refused}");
    let mut dpx = sound().pop().expect("the last").1;
    dpx[772..776].copy_from_slice(&70_000_u32.to_be_bytes());
    let refused = Still::read(&dpx).expect_err("too wide").to_string();
    assert_eq!(refused, "the picture has 70000x30 pixels; each side must be 1 to 65536");
    assert_eq!(
        Still::read(b"plain words").expect_err("no picture").to_string(),
        "this is no picture that is read: PNG, JPEG, TIFF, WebP, OpenEXR and DPX are"
    );
}

/// The check of a chunk (W3C PNG, annex D).
fn crc(bytes: &[u8]) -> u32 {
    !bytes.iter().fold(u32::MAX, |sum, byte| {
        (0..8).fold(sum ^ u32::from(*byte), |sum, _| if sum & 1 == 1 { 0xEDB8_8320 ^ (sum >> 1) } else { sum >> 1 })
    })
}
