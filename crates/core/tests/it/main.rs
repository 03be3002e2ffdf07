//! Tests of the core, by what they hold it against: its own promises, an independent reference,
//! published standards, and common practice.

mod arithmetic;
mod findings;
mod inputs;
mod placement;
mod practice;
mod reference;
mod sizes;
mod standards;
