//! [`Pen`]: flat shapes in upright units, drawn smoothly.

use tiny_skia::{
    Color, FillRule, GradientStop, LinearGradient, Paint, Path, PathBuilder, Pixmap, Point, Rect, SpreadMode, Stroke,
    Transform,
};

/// A colour as it is written on a screen: red, green, blue.
pub(crate) type Ink = [u8; 3];

/// Draws in units of the upright picture, whose shorter side is 1.
pub(crate) struct Pen {
    pixmap: Pixmap,
    transform: Transform,
    /// The width of the picture.
    pub width: f32,
    /// The height of the picture.
    pub height: f32,
}

fn paint(ink: Ink, opacity: f32) -> Paint<'static> {
    let [red, green, blue] = ink.map(|part| f32::from(part) / 255.0);
    let mut paint = Paint { anti_alias: true, ..Paint::default() };
    paint.set_color(Color::from_rgba(red, green, blue, opacity).unwrap_or(Color::BLACK));
    paint
}

impl Pen {
    /// A pen on a paper of so many pixels, which shows a picture of this size; none when there is no such paper.
    pub fn new([across, down]: [u32; 2], [width, height]: [f32; 2]) -> Option<Self> {
        let pixmap = Pixmap::new(across, down)?;
        #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
        let transform = Transform::from_scale(across as f32 / width, down as f32 / height);
        Some(Self { pixmap, transform, width, height })
    }

    /// What was drawn: red, green, blue of each pixel.
    pub fn finish(self) -> Vec<u8> {
        self.pixmap.data().chunks_exact(4).flat_map(|pixel| [pixel[0], pixel[1], pixel[2]]).collect()
    }

    fn fill(&mut self, path: Option<Path>, ink: Ink) {
        if let Some(path) = path {
            self.pixmap.fill_path(&path, &paint(ink, 1.0), FillRule::Winding, self.transform, None);
        }
    }

    /// A rectangle: left, top, width, height.
    pub fn rect(&mut self, [x, y, width, height]: [f32; 4], ink: Ink) {
        self.fill(Rect::from_xywh(x, y, width.max(1e-4), height.max(1e-4)).map(PathBuilder::from_rect), ink);
    }

    /// A rectangle that goes from one colour above to another below.
    pub fn fade(&mut self, [x, y, width, height]: [f32; 4], [above, below]: [Ink; 2]) {
        let Some(rect) = Rect::from_xywh(x, y, width.max(1e-4), height.max(1e-4)) else { return };
        let stop = |at: f32, [r, g, b]: Ink| GradientStop::new(at, Color::from_rgba8(r, g, b, 255));
        let shader = LinearGradient::new(
            Point::from_xy(x, y),
            Point::from_xy(x, y + height),
            vec![stop(0.0, above), stop(1.0, below)],
            SpreadMode::Pad,
            Transform::identity(),
        );
        if let Some(shader) = shader {
            let paint = Paint { shader, anti_alias: true, ..Paint::default() };
            self.pixmap.fill_path(&PathBuilder::from_rect(rect), &paint, FillRule::Winding, self.transform, None);
        }
    }

    pub fn disc(&mut self, [x, y]: [f32; 2], radius: f32, ink: Ink) {
        self.fill(PathBuilder::from_circle(x, y, radius), ink);
    }

    /// A shape with straight sides.
    pub fn shape(&mut self, points: &[[f32; 2]], ink: Ink) {
        let mut path = PathBuilder::new();
        for (at, [x, y]) in points.iter().enumerate() {
            if at == 0 { path.move_to(*x, *y) } else { path.line_to(*x, *y) }
        }
        path.close();
        self.fill(path.finish(), ink);
    }

    /// A circle as a line of a thickness.
    pub fn circle(&mut self, [x, y]: [f32; 2], radius: f32, thick: f32, ink: Ink) {
        if let Some(path) = PathBuilder::from_circle(x, y, radius) {
            let stroke = Stroke { width: thick, ..Stroke::default() };
            self.pixmap.stroke_path(&path, &paint(ink, 1.0), &stroke, self.transform, None);
        }
    }

    pub fn line(&mut self, from: [f32; 2], to: [f32; 2], thick: f32, ink: Ink) {
        let mut path = PathBuilder::new();
        path.move_to(from[0], from[1]);
        path.line_to(to[0], to[1]);
        if let Some(path) = path.finish() {
            let stroke = Stroke { width: thick, ..Stroke::default() };
            self.pixmap.stroke_path(&path, &paint(ink, 1.0), &stroke, self.transform, None);
        }
    }

    /// A figure of strokes, as on a meter.
    pub fn digit(&mut self, digit: u8, [x, y]: [f32; 2], high: f32, ink: Ink) {
        // Top, upper left, upper right, middle, lower left, lower right, bottom.
        const STROKES: [&[usize]; 10] = [
            &[0, 1, 2, 4, 5, 6],
            &[2, 5],
            &[0, 2, 3, 4, 6],
            &[0, 2, 3, 5, 6],
            &[1, 2, 3, 5],
            &[0, 1, 3, 5, 6],
            &[0, 1, 3, 4, 5, 6],
            &[0, 2, 5],
            &[0, 1, 2, 3, 4, 5, 6],
            &[0, 1, 2, 3, 5, 6],
        ];
        let (wide, thick) = (high * 0.5, high * 0.14);
        let half = high / 2.0;
        let places = [
            [0.0, 0.0, wide, thick],
            [0.0, 0.0, thick, half],
            [wide - thick, 0.0, thick, half],
            [0.0, half - thick / 2.0, wide, thick],
            [0.0, half, thick, half],
            [wide - thick, half, thick, half],
            [0.0, high - thick, wide, thick],
        ];
        for stroke in STROKES[usize::from(digit % 10)] {
            let [left, top, width, height] = places[*stroke];
            self.rect([x + left, y + top, width, height], ink);
        }
    }
}
