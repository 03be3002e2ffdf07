//! Whole numbers within bounds, written as JSON integers.

use std::marker::PhantomData;

use ratiomet_core::limits;
use serde::Serializer;
use utoipa::openapi::schema::{ObjectBuilder, Schema, Type};

use crate::describe::Json;
use crate::read::Field;

/// A side of a frame in pixels.
pub type Side = Whole<1, { limits::LARGEST_SIDE }, Pixels>;

/// What a whole number counts.
pub trait Counted {
    /// Its name in a refusal, after a blank; empty where the number counts nothing that has a name.
    const UNIT: &str;
}

/// Nothing that has a name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Plain {}
/// Pixels of a frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pixels {}
/// Pixels as they are stored.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StoredPixels {}

impl Counted for Plain {
    const UNIT: &str = "";
}
impl Counted for Pixels {
    const UNIT: &str = " of pixels";
}
impl Counted for StoredPixels {
    const UNIT: &str = " of stored pixels";
}

/// A whole number, written as a JSON integer without a sign.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Whole<const LEAST: u32, const MOST: u32, Of = Plain>(u32, PhantomData<Of>);

impl<const LEAST: u32, const MOST: u32, Of> Whole<LEAST, MOST, Of> {
    /// The number, which lies within the bounds.
    pub const fn new(value: u32) -> Self {
        Self(value, PhantomData)
    }

    /// The number.
    pub const fn get(self) -> u32 {
        self.0
    }
}

impl<const LEAST: u32, const MOST: u32, Of: Counted> Json for Whole<LEAST, MOST, Of> {
    fn read(field: &Field<'_>) -> Option<Self> {
        match field.whole_number() {
            Some(value) if (LEAST..=MOST).contains(&value) => Some(Self::new(value)),
            _ if MOST == u32::MAX => field.refuse(format!("a whole number{}, {LEAST} or more", Of::UNIT)),
            _ => field.refuse(format!("a whole number{} from {LEAST} to {MOST}", Of::UNIT)),
        }
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u32(self.0)
    }

    fn describe() -> Schema {
        let most = (MOST < u32::MAX).then_some(MOST);
        ObjectBuilder::new().schema_type(Type::Integer).minimum(Some(LEAST)).maximum(most).into()
    }
}

/// So many bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Bytes(pub u64);

impl Json for Bytes {
    fn read(field: &Field<'_>) -> Option<Self> {
        field.long_number().map(Self).or_else(|| field.refuse("a whole number of bytes"))
    }

    fn write<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u64(self.0)
    }

    fn describe() -> Schema {
        ObjectBuilder::new().schema_type(Type::Integer).minimum(Some(0)).into()
    }
}
