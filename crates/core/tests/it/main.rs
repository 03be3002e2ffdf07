//! Tests of the core, by what they hold it against: its own promises, an independent reference,
//! published standards, and common practice.

mod active_picture;
mod arithmetic;
mod cadence;
mod clips;
mod dialling;
mod findings;
mod inputs;
mod placement;
mod practice;
mod projects;
mod proposals;
mod recipes;
mod reference;
mod sizes;
mod spheres;
mod standards;
mod subjects;
mod working_frames;
