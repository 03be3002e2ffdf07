//! [`Jobs`]: long work in the background, one after the other, with progress and stop.

use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tokio::sync::Semaphore;

/// How far a job is.
#[derive(Clone, Copy, Debug)]
pub struct Progress {
    /// Steps that are done.
    pub done: usize,
    /// Steps that there are, as far as it is known.
    pub all: usize,
}

/// What comes of a job: what was asked for, a sentence why there is none, or an empty one when it was stopped.
pub type Outcome<T> = Result<T, String>;

/// What a job is doing.
#[derive(Clone, Debug)]
pub enum Stage<T> {
    /// So many are before it.
    Waiting(usize),
    /// It is being done.
    Working,
    /// It is done.
    Ready(T),
    /// Somebody stopped it.
    Stopped,
    /// Why there is nothing.
    Failed(String),
}

impl<T> Stage<T> {
    /// The word for it.
    pub const fn word(&self) -> &'static str {
        match self {
            Self::Waiting(_) => "waiting",
            Self::Working => "working",
            Self::Ready(_) => "ready",
            Self::Stopped => "stopped",
            Self::Failed(_) => "failed",
        }
    }
}

/// Work that somebody waits for.
#[derive(Debug)]
pub struct Job<T> {
    /// What it is called.
    pub name: String,
    done: AtomicUsize,
    all: AtomicUsize,
    begun: AtomicBool,
    stop: AtomicBool,
    ended: AtomicBool,
    /// When somebody asked for it last.
    asked: Mutex<Instant>,
    outcome: Mutex<Option<Outcome<T>>>,
}

/// How long nobody asks for a job until nobody waits for it any more.
const PATIENCE: Duration = Duration::from_secs(3_600);

impl<T: Clone> Job<T> {
    fn new(name: String, all: usize) -> Self {
        Self {
            name,
            done: AtomicUsize::new(0),
            all: AtomicUsize::new(all),
            begun: AtomicBool::new(false),
            stop: AtomicBool::new(false),
            ended: AtomicBool::new(false),
            asked: Mutex::new(Instant::now()),
            outcome: Mutex::new(None),
        }
    }

    /// Somebody asks for it.
    fn ask(&self) {
        *self.asked.lock().unwrap_or_else(PoisonError::into_inner) = Instant::now();
    }

    /// Ends it where nobody waits for it any more.
    fn stop_if_forgotten(&self, patience: Duration) {
        if self.asked.lock().unwrap_or_else(PoisonError::into_inner).elapsed() > patience {
            self.stop();
        }
    }

    fn held(&self) -> MutexGuard<'_, Option<Outcome<T>>> {
        self.outcome.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// What has come of it; none while it waits or is made.
    fn outcome(&self) -> Option<Outcome<T>> {
        self.held().clone()
    }

    /// Whether nobody works on it any more, or ever will.
    fn is_over(&self) -> bool {
        self.ended.load(Ordering::Relaxed) || (self.is_stopped() && !self.begun.load(Ordering::Relaxed))
    }

    /// How far it is.
    pub fn progress(&self) -> Progress {
        let (done, all) = (self.done.load(Ordering::Relaxed), self.all.load(Ordering::Relaxed));
        Progress { done: done.min(all), all }
    }

    /// Ends it: nothing comes of it from now on; who works on it ends at the next step.
    pub fn stop(&self) {
        self.stop.store(true, Ordering::Relaxed);
        self.held().get_or_insert_with(|| Err(String::new()));
    }

    fn is_stopped(&self) -> bool {
        self.stop.load(Ordering::Relaxed)
    }

    /// One more step is done; whether to go on.
    pub fn step(&self) -> bool {
        self.done.fetch_add(1, Ordering::Relaxed);
        self.stop_if_forgotten(PATIENCE);
        !self.is_stopped()
    }

    /// There are so many more steps than was known.
    pub fn more(&self, steps: usize) {
        self.all.fetch_add(steps, Ordering::Relaxed);
    }

    /// Carries it out. Whatever happens, something comes of it.
    fn work(&self, make: impl FnOnce(&Self) -> Outcome<T>) {
        self.begun.store(true, Ordering::Relaxed);
        self.stop_if_forgotten(PATIENCE);
        let made = if self.is_stopped() {
            Err(String::new())
        } else {
            catch_unwind(AssertUnwindSafe(|| make(self))).unwrap_or_else(|_| {
                tracing::error!(name = self.name, "a job panicked");
                Err("it broke off inside the program; what the server prints says where".to_owned())
            })
        };
        self.held().get_or_insert(made);
        self.ended.store(true, Ordering::Relaxed);
    }
}

/// Jobs by their numbers, and the last number that was given.
#[derive(Debug)]
struct Known<T> {
    last: u64,
    jobs: BTreeMap<u64, Arc<Job<T>>>,
}

/// The jobs of a running server: those that wait or are done, and the latest few that are over.
#[derive(Debug)]
pub struct Jobs<T> {
    known: Mutex<Known<T>>,
    /// One is done at a time: each takes every core there is.
    turn: Arc<Semaphore>,
}

impl<T> Default for Jobs<T> {
    fn default() -> Self {
        Self { known: Mutex::new(Known { last: 0, jobs: BTreeMap::new() }), turn: Arc::new(Semaphore::new(1)) }
    }
}

/// How many that are over are kept for fetching.
const MOST_OVER: usize = 4;
/// How many wait or are done at once.
const MOST_WAITING: usize = 64;

impl<T: Clone + Send + 'static> Jobs<T> {
    /// Begins a new one as soon as those before it are over, and gives its number; none when too many wait.
    pub fn begin(
        &self,
        name: String,
        steps: usize,
        make: impl FnOnce(&Job<T>) -> Outcome<T> + Send + 'static,
    ) -> Option<u64> {
        let job = Arc::new(Job::new(name, steps));
        let number = self.keep(&job)?;
        let turn = self.turn.clone();
        tokio::spawn(async move {
            let Ok(_turn) = turn.acquire_owned().await else { return };
            if tokio::task::spawn_blocking(move || job.work(make)).await.is_err() {
                tracing::error!("the thread of a job ended");
            }
        });
        Some(number)
    }

    fn keep(&self, job: &Arc<Job<T>>) -> Option<u64> {
        let mut known = self.known.lock().unwrap_or_else(PoisonError::into_inner);
        let over: Vec<u64> = known.jobs.iter().filter(|(_, job)| job.is_over()).map(|(at, _)| *at).collect();
        for oldest in &over[..(over.len() + 1).saturating_sub(MOST_OVER)] {
            known.jobs.remove(oldest);
        }
        if known.jobs.len() >= MOST_OVER + MOST_WAITING {
            return None;
        }
        known.last += 1;
        let number = known.last;
        known.jobs.insert(number, job.clone());
        Some(number)
    }

    /// Ends all of them.
    pub fn stop(&self) {
        let known = self.known.lock().unwrap_or_else(PoisonError::into_inner);
        known.jobs.values().for_each(|job| job.stop());
    }

    /// One of them, and what it is doing.
    pub fn get(&self, number: u64) -> Option<(Arc<Job<T>>, Stage<T>)> {
        let known = self.known.lock().unwrap_or_else(PoisonError::into_inner);
        let job = known.jobs.get(&number)?.clone();
        job.ask();
        let before = known.jobs.range(..number).filter(|(_, job)| !job.is_over()).count();
        drop(known);
        let state = match job.outcome() {
            None if before > 0 => Stage::Waiting(before),
            None => Stage::Working,
            Some(Ok(made)) => Stage::Ready(made),
            Some(Err(why)) if why.is_empty() => Stage::Stopped,
            Some(Err(why)) => Stage::Failed(why),
        };
        Some((job, state))
    }
}

#[cfg(test)]
mod tests {
    use std::sync::mpsc;
    use std::time::Duration;

    use super::{Job, Jobs, MOST_WAITING, Stage};

    #[test]
    fn a_job_that_panics_ends_as_failed_and_says_so() {
        let job: Job<()> = Job::new("x.zip".to_owned(), 1);
        assert!(job.outcome().is_none());
        job.work(|_| panic!("a chart cannot be drawn"));
        let why = job.outcome().expect("an outcome").expect_err("failed");
        assert!(why.contains("broke off"), "{why}");
    }

    #[test]
    fn a_job_that_nobody_asks_for_any_more_is_ended() {
        let job: Job<()> = Job::new("x.zip".to_owned(), 1);
        std::thread::sleep(Duration::from_millis(20));
        job.stop_if_forgotten(Duration::from_secs(60));
        assert!(!job.is_stopped() && job.step(), "somebody asked not long ago");
        job.stop_if_forgotten(Duration::from_millis(10));
        assert!(job.is_stopped() && !job.step());
        assert_eq!(job.outcome(), Some(Err(String::new())), "as if somebody had stopped it");
        // Whoever asks begins the time anew.
        let when = || *job.asked.lock().expect("nobody panicked");
        let before = when();
        std::thread::sleep(Duration::from_millis(5));
        job.ask();
        assert!(when() > before);
    }

    #[tokio::test]
    async fn jobs_wait_for_each_other_and_none_is_dropped_for_another() {
        let jobs: Jobs<u32> = Jobs::default();
        let (go, wait) = mpsc::channel::<()>();
        let first = jobs.begin("first".to_owned(), 1, move |_| {
            // OK because it ends as the sender does.
            let _ = wait.recv();
            Ok(1)
        });
        let first = first.expect("taken");
        let rest: Vec<u64> =
            (0..6).map(|at| jobs.begin("next".to_owned(), 1, move |_| Ok(at)).expect("taken")).collect();
        let state = |number: u64| jobs.get(number).expect("kept").1;
        while !matches!(state(first), Stage::Working) {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        assert!(matches!(state(rest[0]), Stage::Waiting(1)) && matches!(state(rest[5]), Stage::Waiting(6)));
        // One that waits is stopped at once, and those behind it move up.
        jobs.get(rest[2]).expect("kept").0.stop();
        assert!(matches!(state(rest[2]), Stage::Stopped) && matches!(state(rest[5]), Stage::Waiting(5)));
        drop(go);
        while !matches!(state(rest[5]), Stage::Ready(5)) {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        // The latest that are over can be fetched; the oldest are gone only when new ones come.
        assert!(matches!(state(first), Stage::Ready(1)));
        let last = jobs.begin("last".to_owned(), 1, |_| Ok(9)).expect("taken");
        assert!(jobs.get(first).is_none() && jobs.get(rest[5]).is_some() && jobs.get(last).is_some());
    }

    #[tokio::test]
    async fn what_is_stopped_is_over_at_once_and_the_next_begins_when_it_has_ended() {
        let jobs: Jobs<()> = Jobs::default();
        let (go, wait) = mpsc::channel::<()>();
        let long = jobs.begin("long".to_owned(), 1, move |_| {
            let _ = wait.recv();
            Ok(())
        });
        let (long, next) = (long.expect("taken"), jobs.begin("next".to_owned(), 1, |_| Ok(())).expect("taken"));
        let state = |number: u64| jobs.get(number).expect("kept").1;
        while !jobs.get(long).expect("kept").0.begun.load(std::sync::atomic::Ordering::Relaxed) {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
        jobs.get(long).expect("kept").0.stop();
        assert!(matches!(state(long), Stage::Stopped) && matches!(state(next), Stage::Waiting(1)));
        drop(go);
        while !matches!(state(next), Stage::Ready(())) {
            tokio::time::sleep(Duration::from_millis(1)).await;
        }
    }

    #[tokio::test]
    async fn too_many_are_refused() {
        let jobs: Jobs<()> = Jobs::default();
        let (go, wait) = mpsc::channel::<()>();
        let hold = move |_: &Job<()>| {
            let _ = wait.recv();
            Ok(())
        };
        assert!(jobs.begin("first".to_owned(), 1, hold).is_some());
        let taken = (0..MOST_WAITING * 2).filter_map(|_| jobs.begin("next".to_owned(), 1, |_| Ok(()))).count();
        assert!((MOST_WAITING..MOST_WAITING + 8).contains(&taken), "{taken}");
        drop(go);
    }
}
