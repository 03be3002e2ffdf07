//! Views out of a sphere against an outside implementation: the v360 filter of ffmpeg.

use std::io::Write;
use std::process::{Command, Stdio};

use serde_json::{Value, json};

use crate::support::Server;

/// The sphere, and a view whose border has a pixel centre at each sixteenth of its sides.
const EYE: [u16; 2] = [4096, 2048];
const VIEW: [usize; 2] = [321, 161];

/// A flat view of a sphere whose pixels say in which column (or line) they stand.
fn by_ffmpeg(fov: f64, [yaw, pitch, roll]: [f64; 3], columns: bool) -> Vec<u16> {
    let half = (fov.to_radians() / 2.0).tan();
    let high = 2.0 * (half * 161.0 / 321.0).atan().to_degrees();
    let filter = format!(
        "v360=input=e:output=flat:interp=near:w={}:h={}:h_fov={fov}:v_fov={high}:yaw={yaw}:pitch={pitch}:roll={roll}",
        VIEW[0], VIEW[1]
    );
    let size = format!("{}x{}", EYE[0], EYE[1]);
    let mut child = Command::new("ffmpeg")
        .args(["-v", "error", "-f", "rawvideo", "-pix_fmt", "gray16le", "-s", &size, "-i", "-", "-vf", &filter])
        .args(["-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "gray16le", "-"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("ffmpeg is installed: apt-get install ffmpeg");
    let mut pixels = Vec::with_capacity(usize::from(EYE[0]) * usize::from(EYE[1]) * 2);
    for line in 0..EYE[1] {
        for column in 0..EYE[0] {
            pixels.extend(if columns { column } else { line }.to_le_bytes());
        }
    }
    let mut input = child.stdin.take().expect("its input");
    let writer = std::thread::spawn(move || input.write_all(&pixels));
    let output = child.wait_with_output().expect("it ends");
    writer.join().expect("written").expect("written");
    assert!(output.status.success(), "ffmpeg failed");
    output.stdout.chunks_exact(2).map(|pair| u16::from_le_bytes([pair[0], pair[1]])).collect()
}

#[tokio::test]
async fn views_look_where_ffmpeg_looks() {
    let server = Server::empty();
    let turns = [
        (90.0, [0.0, 0.0, 0.0]),
        (60.0, [40.0, 0.0, 0.0]),
        (75.0, [-120.0, 25.0, 0.0]),
        (100.0, [10.0, -50.0, 0.0]),
        (50.0, [170.0, 35.0, 20.0]),
        (120.0, [-70.0, -10.0, -65.0]),
        (35.0, [5.0, 80.0, 130.0]),
    ];
    let mut farthest: f64 = 0.0;
    for (fov, turn) in turns {
        // The corners of this view are the middles of the corner pixels of the other one.
        let half = (f64::to_radians(fov) / 2.0).tan() * 320.0 / 321.0;
        let inner = format!("{:.9}", (2.0 * half.atan()).to_degrees());
        let [yaw, pitch, roll] = turn;
        let request = json!({
            "kind": "sphere_view", "eye": EYE, "view": [320, 160], "fov": inner, "yaw": yaw, "pitch": pitch, "roll": roll,
        });
        let seen = server.post("/calc", &request).await.ok();
        let (columns, lines) = (by_ffmpeg(fov, turn, true), by_ffmpeg(fov, turn, false));
        let outline = seen["outline"].as_array().expect("points");
        assert_eq!(outline.len(), 64);
        for (at, point) in outline.iter().enumerate() {
            let (side, step) = (at / 16, at % 16);
            let (i, j) = match side {
                0 => (step * 20, 0),
                1 => (320, step * 10),
                2 => (320 - step * 20, 160),
                _ => (0, 160 - step * 10),
            };
            let number = |value: &Value| value.as_f64().expect("degrees");
            let (lon, lat) = (number(&point[0]), number(&point[1]));
            let column = (lon / 360.0 + 0.5) * f64::from(EYE[0]) - 0.5;
            let line = (0.5 - lat / 180.0) * f64::from(EYE[1]) - 0.5;
            let there = (f64::from(columns[j * VIEW[0] + i]), f64::from(lines[j * VIEW[0] + i]));
            // Columns go round the sphere, and crowd together towards the poles.
            let around =
                (there.0 - column + f64::from(EYE[0]) / 2.0).rem_euclid(f64::from(EYE[0])) - f64::from(EYE[0]) / 2.0;
            let off = (around * lat.to_radians().cos()).hypot(there.1 - line);
            assert!(off < 1.0, "{off} px at {i}, {j} of {fov} {turn:?}: ffmpeg says {there:?}, here {column} {line}");
            farthest = farthest.max(off);
        }
    }
    println!("at most {farthest:.2} sphere pixels from ffmpeg's v360, which takes the nearest whole pixel");
}
