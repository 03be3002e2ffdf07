//! The attributes of OpenEXR headers, counted before anything is made of them: each costs a reader many times its bytes.

use std::io::{self, BufRead, BufReader, Read, Seek, SeekFrom};

/// The most attributes of all headers of a file.
const MOST: usize = 4096;
/// The longest name, as the format has it.
const LONGEST_NAME: u64 = 256;

/// Whether the headers of a file hold no more attributes than any file needs.
///
/// # Errors
/// When they do not end, or bytes of them are not at hand.
pub fn is_plausible(file: impl Read + Seek) -> io::Result<bool> {
    Ok(counted(&mut BufReader::with_capacity(512, file))? <= MOST)
}

fn counted(file: &mut (impl BufRead + Seek)) -> io::Result<usize> {
    let mut begin = [0; 8];
    file.read_exact(&mut begin)?;
    // Bit 12 of the version: several headers, one after the other, with an empty one at their end.
    let many = begin[5] & 0x10 != 0;
    let (mut count, mut empty) = (0, true);
    loop {
        if name(file)? == 0 {
            if !many || empty {
                return Ok(count);
            }
            empty = true;
            continue;
        }
        (count, empty) = (count + 1, false);
        if count > MOST {
            return Ok(count);
        }
        name(file)?;
        let mut size = [0; 4];
        file.read_exact(&mut size)?;
        file.seek(SeekFrom::Current(u32::from_le_bytes(size).into()))?;
    }
}

/// How long the next name is, which is read past.
fn name(file: &mut impl BufRead) -> io::Result<usize> {
    let mut name = Vec::new();
    let read = file.take(LONGEST_NAME).read_until(0, &mut name)?;
    if name.last() == Some(&0) { Ok(read - 1) } else { Err(io::ErrorKind::InvalidData.into()) }
}
