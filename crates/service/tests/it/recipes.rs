//! Recipes carried out by ffmpeg on a chart whose pixels say where they come from, and held against
//! the plan of the same conversion.

use std::io::Write;
use std::process::{Command, Stdio};

use serde_json::{Value, json};

use crate::support::program;

/// Numbers that look drawn, the same each time.
struct Drawn(u64);

impl Drawn {
    fn below(&mut self, end: u64) -> u64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % end
    }

    fn of<T: Copy>(&mut self, among: &[T]) -> T {
        among[usize::try_from(self.below(among.len() as u64)).expect("a place")]
    }
}

fn request(drawn: &mut Drawn) -> Value {
    let side = |drawn: &mut Drawn| 90 + drawn.below(500);
    let inset = |drawn: &mut Drawn| drawn.of(&[0, 0, 0, 2, 4, 7, 16]);
    let chroma = drawn.of(&["4:2:0", "4:2:0", "4:2:2", "4:4:4"]);
    json!({
        "kind": "recipe",
        "source": {
            "raster": [side(drawn), side(drawn)],
            "pixel_aspect": drawn.of(&["1", "1", "12:11", "16:11", "8:9"]),
            "squeeze": drawn.of(&["1", "1", "1.33", "1.5", "1.8", "2"]),
            "active": { "left": inset(drawn), "top": inset(drawn), "right": inset(drawn), "bottom": inset(drawn) },
            "rotation": drawn.of(&[0, 0, 90, 180, 270]),
        },
        "delivery": {
            "raster": [2 * (50 + drawn.below(300)), 2 * (50 + drawn.below(300))],
            "pixel_aspect": drawn.of(&["1", "1", "12:11", "16:11", "4096:4095", "123457/123456", "1.000001"]),
            "picture_ratio": drawn.of(&[None, None, Some("2.39"), Some("4:5")]),
        },
        "framing": {
            "method": drawn.of(&["fit", "fill", "fill", "width", "height", "native", "stretch"]),
            "zoom": drawn.of(&["1", "1", "1.1", "0.7", "2.5"]),
            "shift": [drawn.of(&["0", "0", "13.3"]), drawn.of(&["0", "0", "-7"])],
        },
        "chroma": chroma,
    })
}

/// The results of requests, in their order.
pub fn calc(requests: &[Value]) -> Vec<Value> {
    let input: String = requests.iter().map(|request| format!("{request}\n")).collect();
    let mut child =
        program().arg("calc").stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("the program starts");
    let mut to = child.stdin.take().expect("its input");
    let writing = std::thread::spawn(move || to.write_all(input.as_bytes()));
    let output = child.wait_with_output().expect("it ends");
    writing.join().expect("written").expect("written");
    let text = String::from_utf8(output.stdout).expect("UTF-8");
    text.lines().map(|line| serde_json::from_str(line).expect("JSON")).collect()
}

pub fn whole(value: &Value) -> usize {
    usize::try_from(value.as_u64().expect("a whole number")).expect("it fits")
}

/// A count of pixels as a position.
pub fn real(pixels: usize) -> f64 {
    f64::from(u32::try_from(pixels).expect("32 bits"))
}

pub fn value(value: &Value) -> f64 {
    value["value"].as_f64().expect("an exact value")
}

/// A chart: red and green say how far right and down a pixel is stored, blue that it is not in the insets.
fn chart(request: &Value) -> Vec<u8> {
    let raster = &request["source"]["raster"];
    let (width, height) = (whole(&raster[0]), whole(&raster[1]));
    let active = &request["source"]["active"];
    let inset = |side: &str| whole(&active[side]);
    let across = inset("left")..width - inset("right");
    let down = inset("top")..height - inset("bottom");
    let part = |at: usize, of: usize| u16::try_from((2 * at + 1) * 32_767 / of).expect("16 bits");
    let mut pixels = Vec::with_capacity(width * height * 6);
    for y in 0..height {
        for x in 0..width {
            let inside = across.contains(&x) && down.contains(&y);
            let blue = if inside { u16::MAX } else { 0 };
            for colour in [part(x, width), part(y, height), blue] {
                pixels.extend(colour.to_le_bytes());
            }
        }
    }
    pixels
}

/// What the filter chain makes of the chart.
pub fn picture_of(request: &Value, filter: &str) -> Vec<[u16; 3]> {
    made_of(request, filter, &[])
}

/// The same, and the words of the head of a YUV4MPEG2 stream of it: its size and the shape of its pixels among them.
fn carried_out(request: &Value, filter: &str) -> (Vec<[u16; 3]>, Vec<String>) {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("out.y4m").display().to_string();
    let more = ["-vf", filter, "-frames:v", "1", "-pix_fmt", "yuv420p", &file];
    let picture = made_of(request, filter, &more);
    let stream = std::fs::read(&file).expect("a stream");
    let head = stream.split(|byte| *byte == b'\n').next().expect("a head");
    (picture, String::from_utf8_lossy(head).split(' ').map(str::to_owned).collect())
}

fn made_of(request: &Value, filter: &str, more: &[&str]) -> Vec<[u16; 3]> {
    let raster = &request["source"]["raster"];
    let mut child = Command::new("ffmpeg")
        .args(["-v", "error", "-f", "rawvideo", "-pix_fmt", "rgb48le", "-s"])
        .arg(format!("{}x{}", raster[0], raster[1]))
        .args(["-i", "-"])
        .args(more)
        .args(["-vf", filter, "-frames:v", "1", "-f", "rawvideo", "-pix_fmt", "rgb48le", "-"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("ffmpeg is installed: apt-get install ffmpeg");
    let (mut input, pixels) = (child.stdin.take().expect("its input"), chart(request));
    let writer = std::thread::spawn(move || input.write_all(&pixels));
    let output = child.wait_with_output().expect("it ends");
    writer.join().expect("written").expect("written");
    assert!(output.status.success(), "ffmpeg failed on {filter}");
    let words: Vec<u16> = output.stdout.chunks_exact(2).map(|pair| u16::from_le_bytes([pair[0], pair[1]])).collect();
    words.chunks_exact(3).map(|pixel| [pixel[0], pixel[1], pixel[2]]).collect()
}

/// What one conversion came to: how far the farthest point is from its place, in delivery pixels.
fn check(request: &Value, recipe: &Value, plan: &Value) -> f64 {
    let filter = recipe["filter"].as_str().expect("a filter");
    let (pixels, head) = carried_out(request, filter);
    let delivery = &request["delivery"]["raster"];
    let (width, height) = (whole(&delivery[0]), whole(&delivery[1]));
    assert_eq!(pixels.len(), width * height);
    let aspect = request["delivery"]["pixel_aspect"].as_str().expect("a pixel aspect");
    let aspect = match aspect {
        "1.000001" => "1000001:1000000".to_owned(),
        text if text.contains(['/', ':']) => text.replace('/', ":"),
        text => format!("{text}:1"),
    };
    for word in [format!("W{width}"), format!("H{height}"), format!("A{aspect}")] {
        assert!(head.contains(&word), "{word} is not in {head:?} of {filter}");
    }

    let source = &request["source"];
    let stored = [whole(&source["raster"][0]), whole(&source["raster"][1])].map(real);
    let active = &source["active"];
    let edge = |side: &str| real(whole(&active[side]));
    let low = [edge("left"), edge("top")];
    let high = [stored[0] - edge("right"), stored[1] - edge("bottom")];
    let scale = [value(&plan["scale"]["x"]), value(&plan["scale"]["y"])];
    let image = ["x", "y"].map(|axis| value(&plan["image"][axis]));
    let size = ["width", "height"].map(|axis| value(&plan["image"][axis]));
    let area = ["x", "y"].map(|axis| real(whole(&plan["picture_area"][axis])));
    let area_end =
        [area[0] + real(whole(&plan["picture_area"]["width"])), area[1] + real(whole(&plan["picture_area"]["height"]))];
    // Where the plan has a stored place; half cells that insets cut off allow one stored pixel more.
    let turn = whole(&source["rotation"]);
    let plan_of = |[x, y]: [f64; 2]| -> [f64; 2] {
        let along = match turn {
            0 => [x - low[0], y - low[1]],
            90 => [high[1] - y, x - low[0]],
            180 => [high[0] - x, high[1] - y],
            _ => [y - low[1], high[0] - x],
        };
        [image[0] + along[0] * scale[0], image[1] + along[1] * scale[1]]
    };
    let odd = [low, high].iter().flatten().any(|edge| edge % 2.0 != 0.0);
    let more = [0, 1].map(|axis| if odd { scale[axis] } else { 0.0 });
    let mut farthest: f64 = 0.0;
    // A resampled edge reaches over a few pixels of the coarser side.
    let margin = [0, 1].map(|axis| 4.0 * scale[axis].max(1.0) + 2.0);
    for y in 0..height {
        for x in 0..width {
            let here = [real(x) + 0.5, real(y) + 0.5];
            let pixel = pixels[y * width + x];
            let inside = |by: [f64; 2]| {
                (0..2).all(|axis| {
                    here[axis] > image[axis].max(area[axis]) + by[axis]
                        && here[axis] < (image[axis] + size[axis]).min(area_end[axis]) - by[axis]
                })
            };
            let covered = |axis: usize| {
                let from = if image[axis] <= area[axis] { area[axis] } else { image[axis] + 2.0 + more[axis] };
                let end = image[axis] + size[axis];
                let to = if end >= area_end[axis] { area_end[axis] } else { end - 2.0 - more[axis] };
                here[axis] > from && here[axis] < to
            };
            if covered(0) && covered(1) {
                assert!(pixel[2] > 60_000, "a sliver at {x}, {y}: {pixel:?} by {filter} of {request}");
            }
            let beside = (0..2).any(|axis| here[axis] < area[axis] || here[axis] > area_end[axis]);
            if beside {
                assert_eq!(pixel, [0, 0, 0], "picture in the mask at {x}, {y} by {filter}");
            }
            if inside(margin) && (x + 3 * y) % 7 == 0 {
                let from = [0, 1].map(|axis| f64::from(pixel[axis]) / 65_534.0 * stored[axis]);
                let there = plan_of(from);
                for axis in 0..2 {
                    let off = (there[axis] - here[axis]).abs();
                    assert!(off <= 1.6 + more[axis], "{off} off at {x}, {y} by {filter} of {request}");
                    if !odd {
                        farthest = farthest.max(off);
                    }
                }
            }
        }
    }
    farthest
}

// ffmpeg carries each recipe out, and says raster and sample aspect.
#[test]
fn recipes_carried_out_put_every_point_where_the_plan_has_it() {
    let mut drawn = Drawn(20_261_126);
    let requests: Vec<Value> = (0..50).map(|_| request(&mut drawn)).collect();
    let plans: Vec<Value> = requests
        .iter()
        .map(|request| {
            let mut plan = request.clone();
            let fields = plan.as_object_mut().expect("an object");
            fields.insert("kind".into(), "conversion".into());
            fields.remove("chroma");
            plan
        })
        .collect();
    let (recipes, plans) = (calc(&requests), calc(&plans));
    let mut farthest: f64 = 0.0;
    let mut carried = 0;
    for ((request, recipe), plan) in requests.iter().zip(&recipes).zip(&plans) {
        if recipe["error"].is_null() {
            farthest = farthest.max(check(request, recipe, plan));
            carried += 1;
        } else {
            // Only what shows nothing is refused.
            assert_eq!(plan["window"], Value::Null, "{request}: {recipe}");
        }
    }
    println!("{carried} recipes carried out, the farthest point {farthest:.2} delivery pixels from its place");
    assert!(carried >= 44, "{carried}");
}

// Odd sides cannot be stored in 4:2:0 (ITU-T H.264, clause 6.2, from memory).
#[test]
fn what_cannot_be_a_recipe_is_refused_by_field() {
    let case = |request: Value, pointers: &[&str]| {
        let answer = calc(std::slice::from_ref(&request)).remove(0);
        let errors = answer["error"]["errors"].as_array().unwrap_or_else(|| panic!("{request} is answered"));
        let named: Vec<_> = errors.iter().map(|error| error["pointer"].as_str().unwrap_or_default()).collect();
        assert_eq!(named, pointers, "{request}");
    };
    let of = |delivery: Value, chroma: &str| json!({ "kind": "recipe", "source": { "raster": [1920, 1080] }, "delivery": delivery, "chroma": chroma });
    case(of(json!({ "raster": [1921, 1081] }), "4:2:0"), &["/delivery/raster/0", "/delivery/raster/1"]);
    case(of(json!({ "raster": [1920, 1081], "step": 1 }), "4:2:2"), &["/delivery/step"]);
    case(of(json!({ "raster": [1920, 1080], "step": 1 }), "4:2:0"), &["/delivery/step"]);
    case(of(json!({ "raster": [1920, 1080] }), "4:1:1"), &["/chroma"]);
    let active = json!({ "left": 1, "right": 1917 });
    let thin = json!({ "kind": "recipe", "source": { "raster": [1920, 1080], "active": active }, "delivery": { "raster": [1920, 1080] } });
    case(thin, &["/source/active"]);
    let away = json!({ "kind": "recipe", "source": { "raster": [1920, 1080] }, "delivery": { "raster": [1920, 1080] }, "framing": { "shift": ["1920"] } });
    case(away, &["/framing"]);
}
