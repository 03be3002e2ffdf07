//! Makes sure that there is a folder of web pages to embed, and builds again when it changes.

fn main() {
    let pages = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/dist");
    if let Err(error) = std::fs::create_dir_all(&pages) {
        println!("cargo::error=the folder {} cannot be made: {error}", pages.display());
    }
    println!("cargo::rerun-if-changed=../../web/dist");
}
