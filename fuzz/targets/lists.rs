//! Lists, timelines and framing lists, as bytes of a file.
#![no_main]

use ratiomet_exchange::list::{ListRequest, text_of};

libfuzzer_sys::fuzz_target!(|file: &[u8]| {
    if let Ok(reading) = ListRequest::Text(text_of(file)).understand() {
        for row in &reading.rows {
            let _ = row.source();
        }
    }
});
