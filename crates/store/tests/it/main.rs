//! The store on files of its own: what is written is what is read, versions guard every write, every
//! change can be taken back, and older files move in whole.

mod edits;
mod history;
mod migration;
mod records;
mod support;
