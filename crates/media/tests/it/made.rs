//! Files made by ffmpeg.

use std::path::{Path, PathBuf};
use std::process::Command;

/// Runs ffmpeg on a drawn picture.
pub fn make(folder: &Path, name: &str, size: (u32, u32), rate: &str, arguments: &[&str]) -> PathBuf {
    let file = folder.join(name);
    let chart = format!("testsrc2=size={}x{}:rate={rate}", size.0, size.1);
    let output = Command::new("ffmpeg")
        // Encoders that talk to the terminal by themselves.
        .env("SVT_LOG", "0")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", &chart])
        .args(arguments)
        .arg(&file)
        .output()
        .expect("ffmpeg is installed: apt-get install ffmpeg");
    assert!(output.status.success(), "{name}: {}", String::from_utf8_lossy(&output.stderr));
    file
}

/// What ffprobe says of the first stream of pictures.
pub fn ffprobe(file: &Path) -> serde_json::Value {
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-select_streams", "v:0", "-show_streams", "-of", "json"])
        .arg(file)
        .output()
        .expect("ffprobe is installed with ffmpeg");
    serde_json::from_slice(&output.stdout).expect("JSON")
}

/// What MediaInfo reports of a file, in one of its forms.
pub fn mediainfo(file: &Path, form: &str) -> Vec<u8> {
    let output = Command::new("mediainfo")
        .arg(format!("--Output={form}"))
        .arg(file)
        .output()
        .expect("MediaInfo is installed: apt-get install mediainfo");
    output.stdout
}

pub fn bytes(file: &Path) -> Vec<u8> {
    std::fs::read(file).expect("the file that was made")
}
