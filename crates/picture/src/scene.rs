//! [`taken`]: the stand-in camera. It draws a test scene as a source would have taken it: at its stored raster, squeezed,
//! bordered, turned, or as a sphere.

use image::{DynamicImage, RgbImage};
use ratiomet_core::project::Scene;
use ratiomet_core::space::Axis;
use ratiomet_core::subject::Subject;
use ratiomet_core::{Plan, Rotation, Source};

use crate::pen::{Ink, Pen};
use crate::proof::Ellipse;
use crate::sphere_scene;
use crate::{Problem, Still};

/// A scene as a source takes it, `part` times smaller than its raster; the figure stands where the subject is.
///
/// # Errors
/// A sentence when the part is too small to be drawn.
pub fn taken(
    scene: Scene,
    source: &Source,
    subject: Option<&Subject>,
    sphere: bool,
    part: u32,
) -> Result<Still, Problem> {
    let raster = source.raster();
    let part = part.max(1);
    let (width, height) = ((raster.width() / part).max(1), (raster.height() / part).max(1));
    let insets = source.insets();
    let cut = |inset: u32| inset.div_ceil(part);
    let (left, top) = (cut(insets.left), cut(insets.top));
    let inside = |side: u32, before: u32, after: u32| side.checked_sub(before + cut(after)).filter(|left| *left > 0);
    let (Some(across), Some(down)) = (inside(width, left, insets.right), inside(height, top, insets.bottom)) else {
        return Err(Problem::new("nothing of the picture is left at this size"));
    };
    let swapped = source.rotation().swaps_axes();
    let paper = if swapped { [down, across] } else { [across, down] };
    let samples = if sphere {
        sphere_scene::drawn(paper)
    } else {
        let upright = source.upright();
        let pen = Pen::new(paper, self::paper((upright.along(Axis::X) / upright.along(Axis::Y)).to_f64()));
        let mut pen = pen.ok_or_else(|| Problem::new("the scene is too large to be drawn"))?;
        motif(scene, &mut pen);
        figure(&mut pen, subject);
        marks(&mut pen);
        pen.finish()
    };
    let mut drawn = RgbImage::from_raw(paper[0], paper[1], samples)
        .ok_or_else(|| Problem::new("the scene is too large to be drawn"))?;
    if !sphere {
        edge(&mut drawn);
    }
    // Back to how it is stored: turned against the clock by as much as it is turned upright.
    let stored = match source.rotation() {
        Rotation::None => drawn,
        Rotation::Quarter => image::imageops::rotate270(&drawn),
        Rotation::Half => image::imageops::rotate180(&drawn),
        Rotation::ThreeQuarters => image::imageops::rotate90(&drawn),
    };
    let samples = if (across, down) == (width, height) {
        stored
    } else {
        let mut whole = RgbImage::new(width, height);
        image::imageops::replace(&mut whole, &stored, i64::from(left), i64::from(top));
        whole
    };
    Ok(Still { samples: DynamicImage::ImageRgb8(samples), profile: None, format: "scene" })
}

const WHITE: Ink = [245, 243, 236];
const INK: Ink = [24, 33, 40];

/// The outermost line of pixels, white and black in turn: a cut of one pixel is seen.
fn edge(picture: &mut RgbImage) {
    let (width, height) = picture.dimensions();
    let ink = |along: u32| image::Rgb(if (along / 8).is_multiple_of(2) { [255; 3] } else { [0; 3] });
    for x in 0..width {
        picture.put_pixel(x, 0, ink(x));
        picture.put_pixel(x, height - 1, ink(x));
    }
    for y in 0..height {
        picture.put_pixel(0, y, ink(y));
        picture.put_pixel(width - 1, y, ink(y));
    }
}

/// How large the circle is.
const RING: f32 = 0.42;
/// How many gray steps there are.
const GRAYS: u8 = 11;
/// How large each of them is.
const GRAY: [f32; 2] = [0.05, 0.045];

/// The middle of a gray step in an upright picture of this size.
fn gray_at(at: u8, [width, height]: [f32; 2]) -> [f32; 2] {
    [width / 2.0 + (f32::from(at) - f32::from(GRAYS - 1) / 2.0) * GRAY[0], height - 0.0525]
}

fn gray(at: u8) -> u8 {
    u8::try_from(u16::from(at) * 255 / u16::from(GRAYS - 1)).unwrap_or(255)
}

/// The square of the slanted edge: left, top and side.
fn edge_at([width, height]: [f32; 2]) -> [f32; 3] {
    [width / 2.0 - 0.33, height / 2.0 - 0.08, 0.16]
}

/// Where what is measured of a scene lies in a frame, in delivery pixels.
#[derive(Clone, Debug, PartialEq)]
pub struct Marks {
    /// The large circle.
    pub ring: Ellipse,
    /// The part of the slanted edge that is measured: left, top, right, bottom.
    pub edge: [f64; 4],
    /// Places whose code value is known: the middle of each gray step, and both sides of the slanted edge.
    pub grays: Vec<([f64; 2], f64)>,
    /// How large a gray step is.
    pub gray: [f64; 2],
}

impl Marks {
    /// Those of a source as a plan places it.
    pub fn of(source: &Source, plan: &Plan) -> Self {
        let upright = source.upright();
        let paper = paper((upright.along(Axis::X) / upright.along(Axis::Y)).to_f64());
        let image = &plan.image;
        let scale = [Axis::X, Axis::Y].map(|axis| image.size.along(axis).to_f64());
        let long = |side: f32, axis: usize| f64::from(side) / f64::from(paper[axis]) * scale[axis];
        let start = [image.start(Axis::X).to_f64(), image.start(Axis::Y).to_f64()];
        let place = |[x, y]: [f32; 2]| [start[0] + long(x, 0), start[1] + long(y, 1)];
        let [x, y, side] = edge_at(paper);
        let luminance =
            |[red, green, blue]: Ink| 0.2126 * f64::from(red) + 0.7152 * f64::from(green) + 0.0722 * f64::from(blue);
        let beside = [(0.2, INK), (0.8, WHITE)];
        let beside = beside.map(|(at, ink)| (place([x + side * at, y + side / 2.0]), luminance(ink)));
        let grays = (0..GRAYS).map(|at| (place(gray_at(at, paper)), f64::from(gray(at)))).chain(beside);
        let [left, top] = place([x + side * 0.2, y + side * 0.1]);
        let [right, bottom] = place([x + side * 0.8, y + side * 0.9]);
        Self {
            ring: Ellipse { centre: place([paper[0] / 2.0, paper[1] / 2.0]), radii: [long(RING, 0), long(RING, 1)] },
            edge: [left, top, right, bottom],
            grays: grays.collect(),
            gray: [long(GRAY[0], 0), long(GRAY[1], 1)],
        }
    }
}

/// The size of an upright picture of this ratio, whose shorter side is 1.
#[expect(clippy::cast_possible_truncation, reason = "a ratio for a drawing")]
fn paper(ratio: f64) -> [f32; 2] {
    if ratio >= 1.0 { [ratio as f32, 1.0] } else { [1.0, (1.0 / ratio) as f32] }
}

/// What is measured: a large circle, one in each corner with its number, gray steps, a wedge of lines, a slanted edge.
fn marks(pen: &mut Pen) {
    let (width, height) = (pen.width, pen.height);
    let middle = [width / 2.0, height / 2.0];
    pen.circle(middle, RING, 0.006, WHITE);
    pen.line([middle[0] - 0.03, middle[1]], [middle[0] + 0.03, middle[1]], 0.003, WHITE);
    pen.line([middle[0], middle[1] - 0.03], [middle[0], middle[1] + 0.03], 0.003, WHITE);
    for (number, [x, y]) in (1..).zip([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]]) {
        let centre = [0.09 + x * (width - 0.18), 0.09 + y * (height - 0.18)];
        pen.disc(centre, 0.062, INK);
        pen.circle(centre, 0.062, 0.006, WHITE);
        pen.digit(number, [centre[0] - 0.017, centre[1] - 0.034], 0.068, WHITE);
    }
    // Eleven steps from black to white.
    for at in 0..GRAYS {
        let [x, y] = gray_at(at, [width, height]);
        pen.rect([x - GRAY[0] / 2.0, y - GRAY[1] / 2.0, GRAY[0], GRAY[1]], [gray(at); 3]);
    }
    // Lines that draw together.
    let (x, y, high) = (width / 2.0 + 0.2, height / 2.0 - 0.11, 0.22);
    pen.rect([x - 0.01, y - 0.01, 0.14, high + 0.02], WHITE);
    for at in 0..7_u8 {
        let wide = f32::from(at) / 6.0;
        let (above, below) = (x + wide * 0.12, x + 0.045 + wide * 0.03);
        pen.shape(&[[above - 0.004, y], [above + 0.004, y], [below + 0.001, y + high], [below - 0.001, y + high]], INK);
    }
    // An edge that leans by five degrees (the slanted edge of ISO 12233).
    let [x, y, side] = edge_at([width, height]);
    let lean = side * 0.0875;
    pen.rect([x, y, side, side], WHITE);
    let (upper, lower) = (x + side / 2.0 + lean / 2.0, x + side / 2.0 - lean / 2.0);
    pen.shape(&[[x, y], [upper, y], [lower, y + side], [x, y + side]], INK);
}

/// A person where the subject is.
fn figure(pen: &mut Pen, subject: Option<&Subject>) {
    let Some(subject) = subject else { return };
    let size = ratiomet_core::space::Size::new(ratiomet_core::Exact::ONE, ratiomet_core::Exact::ONE);
    let place = subject.within(&size);
    #[expect(clippy::cast_possible_truncation, reason = "places of a drawing")]
    let side = |value: f64| value as f32;
    let x = side(place.x.to_f64()) * pen.width;
    let y = side(place.y.to_f64()) * pen.height;
    let (wide, high) = (side(place.size.width.to_f64()) * pen.width, side(place.size.height.to_f64()) * pen.height);
    let middle = x + wide / 2.0;
    let head = (wide * 0.3).min(high * 0.12);
    let (coat, skin): (Ink, Ink) = ([92, 52, 40], [222, 176, 140]);
    pen.shape(
        &[
            [middle - wide * 0.3, y + head * 2.1],
            [middle + wide * 0.3, y + head * 2.1],
            [x + wide, y + high],
            [x, y + high],
        ],
        coat,
    );
    pen.disc([middle, y + head], head, skin);
    pen.shape(
        &[[middle - head, y + head * 0.8], [middle, y - head * 0.1], [middle + head, y + head * 0.8]],
        [52, 60, 66],
    );
}

fn motif(scene: Scene, pen: &mut Pen) {
    let (width, height) = (pen.width, pen.height);
    let all = [0.0, 0.0, width, height];
    let ground = height * 0.68;
    match scene {
        Scene::Chart => {
            pen.rect(all, [118, 124, 126]);
            let mut at = width / 2.0 % 0.1;
            while at < width {
                pen.line([at, 0.0], [at, height], 0.002, [150, 156, 158]);
                at += 0.1;
            }
            let mut at = height / 2.0 % 0.1;
            while at < height {
                pen.line([0.0, at], [width, at], 0.002, [150, 156, 158]);
                at += 0.1;
            }
        }
        Scene::Furnace => {
            pen.fade(all, [[48, 30, 26], [84, 46, 32]]);
            for row in 0..14_u8 {
                let y = f32::from(row) * height / 14.0;
                let shift = if row % 2 == 0 { 0.0 } else { 0.09 };
                let mut x = -0.18 + shift;
                while x < width {
                    pen.rect([x + 0.004, y + 0.004, 0.172, height / 14.0 - 0.008], [104, 58, 40]);
                    x += 0.18;
                }
            }
            let mouth = [width * 0.62, height * 0.5];
            for (radius, ink) in
                [(0.36, [150, 60, 24]), (0.3, [214, 98, 28]), (0.23, [244, 158, 52]), (0.14, [255, 226, 150])]
            {
                pen.disc(mouth, radius, ink);
            }
        }
        Scene::Harbour => {
            pen.fade([0.0, 0.0, width, ground], [[120, 158, 186], [206, 214, 210]]);
            pen.fade([0.0, ground, width, height - ground], [[52, 86, 104], [28, 52, 70]]);
            pen.shape(
                &[
                    [0.0, ground - 0.2],
                    [width * 0.75, ground - 0.08],
                    [width * 0.75, ground + 0.06],
                    [0.0, ground + 0.16],
                ],
                [126, 116, 100],
            );
            let mut x = 0.06;
            while x < width * 0.72 {
                pen.rect([x, ground - 0.14 + x * 0.04, 0.012, 0.22], [92, 84, 72]);
                x += 0.13;
            }
            pen.rect([width * 0.86, ground - 0.3, 0.05, 0.3], [232, 226, 214]);
            pen.rect([width * 0.86, ground - 0.22, 0.05, 0.06], [178, 62, 48]);
        }
        Scene::Reeds => {
            pen.rect(all, [78, 110, 92]);
            for at in 0..60_u8 {
                let x = f32::from(at % 10) / 10.0 * width;
                let y = f32::from(at / 10) / 6.0 * height;
                let ink = if at % 3 == 0 { [150, 150, 88] } else { [108, 132, 78] };
                pen.shape(&[[x, y + 0.14], [x + 0.09, y], [x + 0.17, y + 0.16], [x + 0.06, y + 0.2]], ink);
            }
            for at in 0..7_u8 {
                let y = height * f32::from(at) / 7.0;
                let bend = |y: f32| width * (0.46 + 0.12 * (y * 5.0).sin());
                let next = y + height / 7.0;
                pen.shape(
                    &[[bend(y), y], [bend(y) + 0.16, y], [bend(next) + 0.16, next], [bend(next), next]],
                    [88, 140, 158],
                );
            }
        }
        Scene::Market => {
            pen.fade(all, [[214, 204, 184], [172, 150, 122]]);
            let roof = height * 0.3;
            for at in 0..8_u8 {
                let ink = if at % 2 == 0 { [176, 60, 50] } else { [238, 228, 208] };
                let x = width * f32::from(at) / 8.0;
                pen.shape(
                    &[
                        [x, roof],
                        [x + width / 8.0, roof],
                        [x + width / 8.0 - 0.02, roof + 0.16],
                        [x + 0.02, roof + 0.16],
                    ],
                    ink,
                );
            }
            pen.rect([0.0, height * 0.72, width, height * 0.28], [120, 84, 56]);
            for at in 0..9_u8 {
                let ink = [[88, 150, 170], [196, 160, 70], [120, 164, 120]][usize::from(at % 3)];
                pen.disc([width * (0.08 + f32::from(at) * 0.105), height * 0.7], 0.045, ink);
            }
        }
        Scene::Ferry => {
            pen.fade([0.0, 0.0, width, ground], [[196, 178, 160], [224, 208, 188]]);
            pen.rect([0.0, ground, width, height - ground], [92, 104, 106]);
            pen.shape(
                &[
                    [width * 0.14, ground - 0.12],
                    [width * 0.86, ground - 0.12],
                    [width * 0.78, ground + 0.06],
                    [width * 0.2, ground + 0.06],
                ],
                [66, 58, 60],
            );
            pen.rect([width * 0.26, ground - 0.3, width * 0.42, 0.18], [228, 220, 206]);
            for at in 0..5_u8 {
                pen.rect([width * (0.29 + 0.075 * f32::from(at)), ground - 0.25, 0.05, 0.06], [78, 92, 104]);
            }
            pen.rect([width * 0.5, ground - 0.46, 0.08, 0.16], [170, 76, 54]);
        }
        Scene::Kiln => {
            pen.fade([0.0, 0.0, width, ground], [[74, 90, 116], [224, 170, 128]]);
            pen.rect([0.0, ground, width, height - ground], [82, 84, 66]);
            for (place, wide) in [(0.2, 0.3), (0.55, 0.4), (0.86, 0.26)] {
                let x = width * place;
                pen.shape(
                    &[
                        [x - wide / 2.0, ground + 0.04],
                        [x - wide * 0.16, ground - wide * 1.1],
                        [x + wide * 0.16, ground - wide * 1.1],
                        [x + wide / 2.0, ground + 0.04],
                    ],
                    [140, 88, 66],
                );
                pen.disc([x, ground], wide * 0.12, [250, 190, 90]);
            }
        }
        Scene::Pages => {
            pen.rect(all, [96, 76, 58]);
            for place in [0.06, 0.52] {
                let x = width * place;
                pen.rect([x, height * 0.08, width * 0.42, height * 0.84], [232, 222, 196]);
                for line in 0..13_u8 {
                    let y = height * (0.16 + 0.055 * f32::from(line));
                    let long = width * (0.2 + 0.15 * (f32::from(line) * 1.7).sin().abs());
                    pen.rect([x + width * 0.03, y, long, 0.008], [92, 88, 96]);
                }
            }
        }
        Scene::Map => {
            pen.rect(all, [168, 196, 204]);
            let middle = [width / 2.0, height / 2.0];
            let coast: Vec<[f32; 2]> = (0..40_u8)
                .map(|at| {
                    let angle = f32::from(at) / 40.0 * std::f32::consts::TAU;
                    let far = 0.3 + 0.06 * (angle * 3.0).sin() + 0.03 * (angle * 7.0 + 1.0).sin();
                    [middle[0] + far * 1.2 * angle.cos(), middle[1] + far * angle.sin()]
                })
                .collect();
            pen.shape(&coast, [206, 200, 156]);
            let hill: Vec<[f32; 2]> = coast
                .iter()
                .map(|[x, y]| [middle[0] + (x - middle[0]) * 0.5 - 0.06, middle[1] + (y - middle[1]) * 0.5 - 0.04])
                .collect();
            pen.shape(&hill, [182, 174, 120]);
            pen.line([middle[0] + 0.3, middle[1] + 0.05], [width, middle[1] + 0.16], 0.01, [140, 92, 70]);
        }
    }
}
