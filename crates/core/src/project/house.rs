//! [`HouseFrame`] and [`HouseActivePicture`]: what is kept by name across projects.

use crate::active_picture::ActivePicture;
use crate::project::{Deliverable, Name};

/// A frame that the house delivers again and again.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HouseFrame {
    /// The heading under which it is listed.
    pub group: Name,
    /// The frame, under its own name.
    pub frame: Deliverable,
}

/// An active picture under a name: the border of a recorder, the guide of a camera.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HouseActivePicture {
    /// What it is called.
    pub name: Name,
    /// The rule.
    pub picture: ActivePicture,
}
