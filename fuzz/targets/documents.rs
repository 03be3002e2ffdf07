//! Files of our own: projects, libraries, lines of calculations.
#![no_main]

libfuzzer_sys::fuzz_target!(|file: &[u8]| {
    if let Ok(project) = ratiomet_exchange::project_file::read(file) {
        let again = ratiomet_exchange::project_file::write(&project);
        let read = ratiomet_exchange::project_file::read(again.as_bytes()).expect("what was written is read");
        assert_eq!(ratiomet_exchange::project_file::write(&read), again);
        for (_, conversion) in project.board().take(64) {
            assert!(conversion.findings.len() < 100);
        }
    }
    if let Ok(library) = ratiomet_exchange::library_file::read(file) {
        let again = ratiomet_exchange::library_file::write(&library);
        assert!(ratiomet_exchange::library_file::read(again.as_bytes()).is_ok());
    }
});
