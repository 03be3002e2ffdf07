//! `ratiomet calc`: JSON Lines in, JSON Lines out, in order, a bounded batch at a time.

use std::io::{self, BufRead, BufReader, Read, Write};
use std::sync::mpsc::{Receiver, SyncSender, sync_channel};
use std::thread;

use ratiomet_wire::calc;
use ratiomet_wire::problem::Problem;
use serde::Serialize;

/// The longest line that is read; a request takes a few hundred bytes.
const LONGEST_LINE: usize = 1 << 20;
/// About how many bytes of requests one worker takes at a time.
const BATCH: usize = 1 << 14;
/// About how many times as long as its request an answer is.
const ANSWER: usize = 16;

/// What stands in the place of a bad line.
#[derive(Serialize)]
struct Refusal {
    error: Box<Problem>,
}

/// Whether every line was answered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Outcome {
    /// Every line has a result.
    AllAnswered,
    /// At least one line was refused in its place.
    SomeRefused,
}

/// Answers every line of `input`, in order. Blank lines are skipped.
///
/// Lines are dealt to the processors in batches and the answers collected in the same order. Only
/// a few batches are ever under way, so memory does not grow with the number of lines; a batch
/// ends where reading on would wait, so that a program which sends a line gets its answer.
///
/// # Errors
/// Those of reading and writing.
pub fn run(input: impl Read + Send, mut output: impl Write) -> io::Result<Outcome> {
    let workers = thread::available_parallelism().map_or(1, usize::from);
    thread::scope(|scope| {
        let mut tasks = Vec::new();
        let mut answers = Vec::new();
        for _ in 0..workers {
            let (task, todo) = sync_channel(2);
            let (done, answer) = sync_channel(2);
            scope.spawn(move || work(&todo, &done));
            tasks.push(task);
            answers.push(answer);
        }
        let reading = scope.spawn(move || deal(input, &tasks));
        let mut outcome = Outcome::AllAnswered;
        // The batches went out in turn, so the answers come back in turn.
        for answer in answers.iter().cycle() {
            let Ok(Answers { text, refused }) = answer.recv() else {
                break;
            };
            if refused {
                outcome = Outcome::SomeRefused;
            }
            output.write_all(&text)?;
            output.flush()?;
        }
        // OK because the reader does not panic; if it did, its panic goes on here.
        reading.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic))?;
        Ok(outcome)
    })
}

/// Lines on their way to a worker.
#[derive(Default)]
struct Batch {
    text: Vec<u8>,
    /// Where each line ends in the text; `None` is a line that was too long and left out.
    ends: Vec<Option<usize>>,
}

/// What a worker made of a batch.
struct Answers {
    text: Vec<u8>,
    refused: bool,
}

/// Reads lines and deals them to the workers in turn, until the end or until nobody listens.
fn deal(input: impl Read, tasks: &[SyncSender<Batch>]) -> io::Result<()> {
    let mut reader = BufReader::with_capacity(2 * BATCH, input);
    let mut batch = Batch::default();
    let mut turn = tasks.iter().cycle();
    loop {
        let start = batch.text.len();
        let more = match read_line(&mut reader, &mut batch.text)? {
            Line::Whole => {
                batch.ends.push(Some(batch.text.len()));
                true
            }
            Line::TooLong => {
                batch.text.truncate(start);
                batch.ends.push(None);
                true
            }
            Line::End => false,
        };
        let waits = !reader.buffer().contains(&b'\n');
        if !more || waits || batch.text.len() >= BATCH {
            let full = std::mem::take(&mut batch);
            let listened = full.ends.is_empty() || turn.next().is_some_and(|task| task.send(full).is_ok());
            if !more || !listened {
                return Ok(());
            }
        }
    }
}

fn work(todo: &Receiver<Batch>, done: &SyncSender<Answers>) {
    while let Ok(batch) = todo.recv() {
        if done.send(answer(&batch)).is_err() {
            return;
        }
    }
}

fn answer(batch: &Batch) -> Answers {
    let mut answers = Answers { text: Vec::with_capacity(ANSWER * batch.text.len()), refused: false };
    let mut start = 0;
    for end in &batch.ends {
        let result = match *end {
            Some(end) => {
                let line = &batch.text[start..end];
                start = end;
                if line.trim_ascii().is_empty() {
                    continue;
                }
                calc::answer(line)
            }
            None => Err(Problem::too_long(LONGEST_LINE).into()),
        };
        let written = match result {
            Ok(result) => serde_json::to_writer(&mut answers.text, &result),
            Err(error) => {
                answers.refused = true;
                serde_json::to_writer(&mut answers.text, &Refusal { error })
            }
        };
        debug_assert!(written.is_ok(), "results have text keys and go to memory");
        answers.text.push(b'\n');
    }
    answers
}

enum Line {
    Whole,
    TooLong,
    End,
}

/// Adds the next line to `text`; of one that is too long, only some.
fn read_line(reader: &mut impl BufRead, text: &mut Vec<u8>) -> io::Result<Line> {
    let limit = LONGEST_LINE as u64 + 1;
    let read = reader.by_ref().take(limit).read_until(b'\n', text)? as u64;
    if read < limit {
        return Ok(if read == 0 { Line::End } else { Line::Whole });
    }
    let mut rest = Vec::new();
    while text.last() != Some(&b'\n') && rest.last() != Some(&b'\n') {
        rest.clear();
        if reader.by_ref().take(limit).read_until(b'\n', &mut rest)? == 0 {
            break;
        }
    }
    Ok(Line::TooLong)
}
