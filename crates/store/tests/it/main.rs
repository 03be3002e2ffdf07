//! The store on files of its own: what is written is what is read, versions guard every write, every
//! change can be taken back, older files move in whole, and nothing that goes wrong takes anything along.

mod edits;
mod history;
mod house;
mod migration;
mod mishaps;
mod people;
mod records;
mod stills;
mod support;
mod tidying;
