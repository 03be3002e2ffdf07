//! From the bytes of a file to text.

use encoding_rs::{Encoding, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1252};

/// How much of a file tells how it is written.
const SAMPLE: usize = 4096;

/// The text of a file: UTF-8, UTF-16 with and without its mark, else Windows-1252, in which older spreadsheets write.
///
/// ```
/// use ratiomet_exchange::list::text_of;
/// assert_eq!(text_of("Größe".as_bytes()), "Größe");
/// assert_eq!(text_of(b"Gr\xF6\xDFe"), "Größe");
/// assert_eq!(text_of(b"\xFF\xFEA\0B\0"), "AB");
/// assert_eq!(text_of(b"A\0B\0"), "AB");
/// ```
pub fn text_of(bytes: &[u8]) -> String {
    if let Some((encoding, length)) = Encoding::for_bom(bytes) {
        return encoding.decode_without_bom_handling(&bytes[length..]).0.into_owned();
    }
    let sample = &bytes[..bytes.len().min(SAMPLE)];
    let zeros = |from: usize| sample.iter().skip(from).step_by(2).filter(|byte| **byte == 0).count();
    // Plain letters have a zero byte each in UTF-16; other text has none at all.
    let (even, odd) = (zeros(0), zeros(1));
    let encoding = match () {
        () if odd * 4 > sample.len() && odd > even => UTF_16LE,
        () if even * 4 > sample.len() && even > odd => UTF_16BE,
        () if std::str::from_utf8(bytes).is_ok() => UTF_8,
        () => WINDOWS_1252,
    };
    encoding.decode_without_bom_handling(bytes).0.into_owned()
}
