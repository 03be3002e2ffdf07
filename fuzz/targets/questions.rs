//! Questions in plain words.
#![no_main]

libfuzzer_sys::fuzz_target!(|text: &str| {
    let _ = ratiomet_exchange::ask::ask(text);
});
