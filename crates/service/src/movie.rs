//! One frame of a movie, as it is stored, by ffmpeg where the machine has it.

use std::fs::File;
use std::process::Stdio;

use ratiomet_core::FrameRate;
use ratiomet_picture::limits::MOST_BYTES;
use tokio::io::AsyncReadExt;
use tokio::process::Command;

/// A moment of a movie: seconds, or hours, minutes, seconds and frames.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Moment {
    /// Seconds from its start.
    Seconds(f64),
    /// So many frames after so many whole seconds.
    Frames(u32, u32),
}

impl Moment {
    /// A moment as it is written: `12.5`, `00:01:02` or `00:01:02:08`.
    pub fn parse(text: &str) -> Option<Self> {
        let parts: Vec<&str> = text.trim().split([':', ';']).collect();
        let whole = |text: &&str| text.parse::<u32>().ok().filter(|_| text.bytes().all(|byte| byte.is_ascii_digit()));
        match parts.as_slice() {
            [seconds] => seconds.parse().ok().filter(|seconds| (0.0..1e7).contains(seconds)).map(Self::Seconds),
            [hours, minutes, seconds, frames @ ..] if frames.len() < 2 => {
                let [hours, minutes, seconds] = [whole(hours)?, whole(minutes)?, whole(seconds)?];
                let frames = frames.first().map_or(Some(0), whole)?;
                let seconds = hours.checked_mul(3_600)?.checked_add(minutes.checked_mul(60)?)?.checked_add(seconds)?;
                Some(Self::Frames(seconds, frames))
            }
            _ => None,
        }
    }

    /// Seconds from the start, a little before the frame, so that it is the first one that comes. Timecode counts frames at the
    /// whole rate next to that of the footage (SMPTE ST 12-1, without dropped numbers).
    ///
    /// # Errors
    /// A sentence when frames are named and no rate is known, or there are not so many in a second.
    pub fn seconds(self, rate: Option<&FrameRate>) -> Result<f64, String> {
        match (self, rate) {
            (Self::Seconds(seconds), _) => Ok(seconds),
            (Self::Frames(seconds, 0), None) => Ok(f64::from(seconds)),
            (Self::Frames(..), None) => Err("frames need the rate of the source: set it, or name seconds".to_owned()),
            (Self::Frames(seconds, frames), Some(rate)) => {
                let rate = rate.value().to_f64();
                let count = rate.round();
                if f64::from(frames) >= count {
                    return Err(format!("a second has {count} frames, from 0 to {}", count - 1.0));
                }
                let frame = f64::from(seconds) * count + f64::from(frames);
                Ok(((frame - 0.5) / rate).max(0.0))
            }
        }
    }
}

/// A frame of a movie as PNG: before any turn, and pixels as they are stored. What is given up ends with it.
///
/// # Errors
/// A sentence when there is no ffmpeg, no such frame, or the file is none that it reads.
pub async fn frame(movie: File, at: f64) -> Result<Vec<u8>, String> {
    let mut ffmpeg = Command::new("ffmpeg");
    // The file is open already: no path of it is named, and nothing of it goes through a shell.
    ffmpeg
        .args(["-nostdin", "-hide_banner", "-loglevel", "error", "-noautorotate"])
        .args(["-ss", &format!("{at:.6}"), "-i", "/dev/stdin", "-map", "0:v:0", "-frames:v", "1"])
        .args(["-f", "image2pipe", "-c:v", "png", "pipe:1"])
        .stdin(Stdio::from(movie))
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .kill_on_drop(true);
    let mut running = ffmpeg.spawn().map_err(|error| match error.kind() {
        std::io::ErrorKind::NotFound => {
            "this machine has no ffmpeg, which takes frames out of movies: install it, or open the movie in the browser"
                .to_owned()
        }
        _ => format!("ffmpeg cannot be started: {error}"),
    })?;
    let failed = |error: std::io::Error| format!("ffmpeg broke off: {error}");
    let (Some(out), Some(said)) = (running.stdout.take(), running.stderr.take()) else {
        return Err("ffmpeg cannot be listened to".to_owned());
    };
    let (mut png, mut words) = (Vec::new(), String::new());
    let (mut out, mut said) = (out.take(MOST_BYTES + 1), said.take(4_096));
    let (read, heard) = tokio::join!(out.read_to_end(&mut png), said.read_to_string(&mut words));
    read.map_err(failed)?;
    // OK because what it says is only for the error.
    let _ = heard;
    let ended = running.wait().await.map_err(failed)?;
    let why = words.lines().last().unwrap_or_default().replace("/dev/stdin", "the file");
    if !ended.success() {
        return Err(format!("ffmpeg does not read it: {why}"));
    }
    if png.is_empty() {
        return Err("the movie has no frame there: it is shorter".to_owned());
    }
    Ok(png)
}

#[cfg(test)]
mod tests {
    use ratiomet_core::FrameRate;

    use super::Moment;

    #[test]
    fn moments_are_seconds_or_timecode() {
        let rate = FrameRate::spoken("23.976").expect("a rate");
        let at = |text: &str| Moment::parse(text).expect(text).seconds(Some(&rate)).expect(text);
        assert_eq!(at("12.5"), 12.5);
        assert_eq!(at("00:00:00:00"), 0.0);
        // The 25th frame of 23.976 a second stands at 24 * 1001 / 24000 seconds.
        assert!((at("00:00:01:00") - 23.5 * 1001.0 / 24_000.0).abs() < 1e-9, "{}", at("00:00:01:00"));
        assert!((at("01:00:00:12") - (86_400.0 + 11.5) * 1001.0 / 24_000.0).abs() < 1e-6);
        assert!(
            Moment::parse("00:00:01:24")
                .expect("read")
                .seconds(Some(&rate))
                .is_err_and(|why| why.contains("24 frames"))
        );
        assert!(Moment::parse("00:00:01:02").expect("read").seconds(None).is_err_and(|why| why.contains("rate")));
        assert_eq!(Moment::parse("00:01:02").expect("read").seconds(None), Ok(62.0));
        for bad in ["", "x", "-1", "1:2", "00:00:-1:00", "1e9", "00:00:00:00:00", "+1:00:00:00"] {
            assert_eq!(Moment::parse(bad), None, "{bad}");
        }
    }
}
