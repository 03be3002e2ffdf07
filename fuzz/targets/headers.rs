//! The headers of footage, in every format.
#![no_main]

libfuzzer_sys::fuzz_target!(|file: &[u8]| {
    let _ = ratiomet_media::read(file);
});
