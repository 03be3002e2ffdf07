//! Tests of the core, by what they hold it against: its own promises, an independent reference,
//! published standards, and common practice.

mod active_picture;
mod arithmetic;
mod cadence;
mod clips;
mod cores;
mod dial;
mod dialling;
mod edits;
mod files;
mod findings;
mod following;
mod inputs;
mod levelling;
mod numbers;
mod placement;
mod points;
mod practice;
mod projects;
mod proposals;
mod recipes;
mod reference;
mod sizes;
mod spheres;
mod standards;
mod stills;
mod subjects;
mod turning;
mod typing;
mod working_frames;
