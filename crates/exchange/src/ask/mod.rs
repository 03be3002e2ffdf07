//! Questions in the words of the trade: `2.39 from UHD`, `1.8x on 3840x2160 into 2.39`, `60 at 24`.
//!
//! A question becomes one request of the calculations, so that its answer is theirs. Known are:
//!
//! | question | example |
//! | --- | --- |
//! | a ratio out of a frame | `2.39 from UHD`, `2.39 in 3840x2160 high` |
//! | a squeeze on a sensor | `1.8x on 3840x2160 into 2.39`, `1.5x on 3:2` |
//! | pixels of another shape | `720x576 12:11` |
//! | one frame into another | `UHD into HD` |
//! | a rate at another | `60 at 24`, `120 at 24 slow` |
//! | a sphere, a view out of it | `5760 sphere`, `5760 sphere 90 view 1920x1080` |
//! | what a decoder must take | `level 3840x1920 30p` |
//! | a frame on a screen | `HD 2.00 on screen 2340x1080` |
//! | how heavy it gets | `HD 25p 90s 12mbps` |

mod question;
mod sentence;
mod words;

use ratiomet_wire::calc::{CalcRequest, CalcResult};
use ratiomet_wire::describe::Values;
use ratiomet_wire::names::CalcRequestValues;
use serde::Serialize;
use utoipa::ToSchema;

use question::Question;
use words::{Word, words};

/// Questions to show to somebody who does not know how to ask.
pub const EXAMPLES: [&str; 9] = [
    "2.39 from UHD",
    "1.8x on 3840x2160 into 2.39",
    "720x576 12:11",
    "UHD into HD",
    "60 at 24",
    "5760 sphere 90 view 1920x1080",
    "level 3840x1920 30p",
    "HD 2.00 on screen 2340x1080",
    "HD 25p 90s 12mbps",
];

/// The longest question that is read, in characters.
pub const LONGEST: usize = 200;

/// An answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct Answer {
    /// How the question was understood.
    #[schema(example = "2.39 out of 3840×2160")]
    pub understood: String,
    /// The answer in a sentence.
    #[schema(example = "3840×1606, exactly 1606.69 lines; keeps 74.4 %.")]
    pub sentence: String,
    /// What was taken for granted.
    pub remarks: Vec<String>,
    /// The same as a request of the calculations.
    pub request: CalcRequestValues,
    /// Its result.
    pub result: CalcResult,
}

/// Why there is no answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct NoAnswer {
    /// What was not understood, or what the calculation refuses.
    pub why: String,
    /// Questions that are understood.
    pub examples: Vec<&'static str>,
}

/// The answer to a question.
///
/// # Errors
/// What was not understood, with examples.
///
/// ```
/// use ratiomet_exchange::ask::ask;
/// let answer = ask("2,39 out of UHD, how high?").unwrap();
/// assert!(answer.sentence.starts_with("3840×1606"));
/// assert_eq!(answer.remarks, ["2,39 is read as 2.39"]);
/// assert!(ask("how do you do").is_err());
/// ```
pub fn ask(text: &str) -> Result<Answer, NoAnswer> {
    let no = |why: String| NoAnswer { why, examples: EXAMPLES.to_vec() };
    if text.chars().count() > LONGEST {
        return Err(no(format!("a question of at most {LONGEST} characters")));
    }
    let (words, remarks) = words(text);
    if let Some(Word::Other(other)) = words.iter().find(|word| matches!(word, Word::Other(_))) {
        return Err(no(format!("{other:?} was not understood")));
    }
    let Some(Question { understood, calculation }) = question::of(&words) else {
        return Err(no("the question was not understood".to_owned()));
    };
    let refused = |error: ratiomet_core::Error| no(format!("{understood}: must be {error}"));
    let calculation = calculation.map_err(refused)?;
    let answer = calculation.clone().answer().map_err(|(_, error)| refused(error))?;
    Ok(Answer {
        sentence: sentence::of(&calculation, &answer),
        understood,
        remarks,
        request: Values(CalcRequest(calculation)),
        result: answer.into(),
    })
}
