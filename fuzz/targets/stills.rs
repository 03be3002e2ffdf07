//! Stills, in every format. Whatever a file says of its size, what it unfolds to is bounded.
#![no_main]

libfuzzer_sys::fuzz_target!(|file: &[u8]| {
    let _ = ratiomet_picture::Still::read(file);
});
