//! Ratiomet: plans frame geometry conversions for post-production.

mod calc_lines;
fn main() -> std::process::ExitCode {
    match calc_lines::run(std::io::stdin(), std::io::stdout().lock()) {
        Ok(calc_lines::Outcome::AllAnswered) => 0.into(),
        _ => 1.into(),
    }
}
