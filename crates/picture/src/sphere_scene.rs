//! What stands all around the stand-in camera, unrolled: kilns on a shore under an evening sky, the horizon tilted.

use rayon::prelude::*;

/// How far the camera leaned, in degrees, to its side and forward.
const LEANED: [f32; 2] = [6.0, 3.0];

/// Red, green, blue of each pixel of the unrolled sphere.
pub(crate) fn drawn([width, height]: [u32; 2]) -> Vec<u8> {
    let mut samples = vec![0_u8; width as usize * height as usize * 3];
    let [side, front] = LEANED.map(f32::to_radians);
    #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
    let (across, down) = (width as f32, height as f32);
    samples.par_chunks_mut(width as usize * 3).enumerate().for_each(|(row, line)| {
        #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
        let latitude = (0.5 - (row as f32 + 0.5) / down) * std::f32::consts::PI;
        for (column, pixel) in line.chunks_exact_mut(3).enumerate() {
            #[expect(clippy::cast_precision_loss, reason = "a side has at most 65,536 pixels")]
            let longitude = ((column as f32 + 0.5) / across - 0.5) * std::f32::consts::TAU;
            let direction = [latitude.cos() * longitude.sin(), latitude.sin(), latitude.cos() * longitude.cos()];
            // How the world lies for a camera that leans.
            let [x, y, z] = direction;
            let (x, y) = (x * side.cos() - y * side.sin(), x * side.sin() + y * side.cos());
            let (y, z) = (y * front.cos() - z * front.sin(), y * front.sin() + z * front.cos());
            pixel.copy_from_slice(&seen(y.clamp(-1.0, 1.0).asin().to_degrees(), x.atan2(z).to_degrees()));
        }
    });
    samples
}

/// What is seen at a height over the horizon and a direction, both in degrees.
fn seen(up: f32, around: f32) -> [u8; 3] {
    let mix = |one: [f32; 3], other: [f32; 3], share: f32| {
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "between two colours")]
        let part = |at: usize| (one[at] + (other[at] - one[at]) * share.clamp(0.0, 1.0)) as u8;
        [part(0), part(1), part(2)]
    };
    // A graticule each 30 degrees of the world, so that every place is known.
    let near = |value: f32| (value / 30.0 - (value / 30.0).round()).abs() * 30.0;
    let thin = 0.18;
    if near(up) < thin || near(around) * up.to_radians().cos() < thin {
        return if up.abs() < 1.0 { [196, 71, 43] } else { [238, 234, 222] };
    }
    // Five kilns around, and a stack of steps on one side.
    for (place, wide, high) in
        [(-140.0, 16.0, 24.0), (-60.0, 10.0, 16.0), (0.0, 22.0, 34.0), (75.0, 12.0, 20.0), (150.0, 18.0, 26.0)]
    {
        let off: f32 = (around - place + 540.0_f32).rem_euclid(360.0) - 180.0;
        if up > -4.0 && up < high && off.abs() < wide * (1.0 - 0.7 * (up + 4.0) / (high + 4.0)) {
            let mouth = off.abs() < wide * 0.2 && up < 4.0;
            return if mouth { [252, 196, 96] } else { mix([150.0, 94.0, 70.0], [96.0, 58.0, 48.0], off / wide + 0.5) };
        }
    }
    if up > 0.0 {
        mix([228.0, 176.0, 134.0], [58.0, 80.0, 116.0], up / 60.0)
    } else if (-100.0..40.0).contains(&around) {
        mix([96.0, 98.0, 76.0], [58.0, 60.0, 48.0], -up / 70.0)
    } else {
        mix([70.0, 104.0, 120.0], [30.0, 56.0, 74.0], -up / 70.0)
    }
}
