//! The program from outside: its command line, its API, and its pages in a real browser.

mod support;

mod access;
mod api;
mod board;
mod command_line;
mod conversions;
mod data_file;
mod edits;
mod files;
mod footage_files;
mod framing;
mod framing_screen;
mod handoff;
mod helpers;
mod hostile;
mod keyboard;
mod large_board;
mod made_files;
mod many;
mod movies;
mod openapi;
mod people;
mod pictures;
mod points;
mod power_cut;
mod proof;
mod recipes;
mod screenshots;
mod slide_rule;
mod sphere;
mod spheres;
mod stories;
mod tables;
mod typing;
mod wrong_input;
