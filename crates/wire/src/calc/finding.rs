//! Findings as JSON.

use std::borrow::Cow;

use ratiomet_core::Exact;
use ratiomet_core::finding::{Finding, Severity, Squeezing};
use serde::{Serialize, Serializer};
use utoipa::ToSchema;

use crate::number::{AxesResult, ExactNumber};

/// How much a finding matters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub enum SeverityName {
    /// Must not go out like this.
    Stop,
    /// Needs a look.
    Caution,
    /// Good to know.
    Note,
}

impl From<Severity> for SeverityName {
    fn from(severity: Severity) -> Self {
        match severity {
            Severity::Stop => Self::Stop,
            Severity::Caution => Self::Caution,
            Severity::Note => Self::Note,
        }
    }
}

/// One thing to know about a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct FindingResult {
    /// The stable code.
    #[schema(example = "bars")]
    pub code: &'static str,
    /// How much it matters.
    pub severity: SeverityName,
    /// A sentence with the numbers in it.
    pub message: String,
    /// The numbers by name.
    #[serde(serialize_with = "by_name")]
    #[schema(value_type = BTreeMap<String, FindingData>)]
    pub data: Vec<(&'static str, FindingData)>,
}

/// A value in the data of a finding.
#[derive(Debug, Serialize, ToSchema)]
#[serde(untagged)]
pub enum FindingData {
    /// One exact number.
    Number(ExactNumber),
    /// One exact number for each axis.
    Axes(AxesResult),
    /// A whole number.
    Whole(i64),
    /// A raster in pixels.
    Raster([u32; 2]),
    /// A name.
    Text(Cow<'static, str>),
}

fn by_name<S: Serializer>(data: &[(&'static str, FindingData)], serializer: S) -> Result<S::Ok, S::Error> {
    serializer.collect_map(data.iter().map(|(name, value)| (name, value)))
}

impl From<&Finding> for FindingResult {
    fn from(finding: &Finding) -> Self {
        use FindingData::{Axes, Number, Raster, Text, Whole};
        let number = |value: &Exact| Number(ExactNumber(value.clone()));
        let word = |text: &'static str| Text(Cow::Borrowed(text));
        let data: Vec<(&'static str, FindingData)> = match finding {
            Finding::Bars { each_side, .. } => vec![("each_side", Axes(each_side.clone().into()))],
            Finding::OffEdge { beyond, travel } => {
                vec![("beyond", Axes(beyond.clone().into())), ("travel", Axes(travel.clone().into()))]
            }
            Finding::DoubleBoxed { black } => vec![("black", Axes(black.clone().into()))],
            Finding::Distorted { distortion } => vec![("distortion", number(distortion))],
            Finding::Enlarged { scale, whole, remainder, .. } => {
                vec![
                    ("scale", Axes(scale.clone().into())),
                    ("whole", Whole(*whole)),
                    ("remainder", Axes(remainder.clone().into())),
                ]
            }
            Finding::EnlargedOneWay { axis, scale } => vec![("axis", word(axis.word())), ("scale", number(scale))],
            Finding::OddSize { raster, step } => {
                vec![("raster", Raster([raster.width(), raster.height()])), ("step", Whole(i64::from(step.pixels())))]
            }
            Finding::MostlyLost { kept, by_ratio } => vec![("kept", number(kept)), ("by_ratio", number(by_ratio))],
            Finding::Sideways { now, turned } => vec![("now", number(now)), ("turned", number(turned))],
            Finding::NearPublished { raster, published } => vec![
                ("raster", Raster([raster.width(), raster.height()])),
                ("name", word(published.name)),
                ("published", Raster([published.width, published.height])),
                ("source", word(published.source)),
            ],
            Finding::SubjectCut { shown } => vec![("shown", number(shown))],
            Finding::SubjectTight { free, margin } => vec![("free", number(free)), ("margin", number(margin))],
            Finding::NoSubject => Vec::new(),
            Finding::Squeeze(Squeezing::Missing { squeeze, set, alike, of }) => vec![
                ("squeeze", number(squeeze)),
                ("set", number(set)),
                ("alike", Whole(i64::try_from(*alike).unwrap_or(i64::MAX))),
                ("of", Whole(i64::try_from(*of).unwrap_or(i64::MAX))),
            ],
            Finding::Projection { from, to } => vec![("from", word(from.word())), ("to", word(to.word()))],
            Finding::SphereForm { from, to } => {
                vec![("from", Text(Cow::Owned(from.clone()))), ("to", Text(Cow::Owned(to.clone())))]
            }
            Finding::SphereShape { of_frame, shape } => {
                vec![("of", word(if *of_frame { "frame" } else { "source" })), ("shape", number(shape))]
            }
            Finding::SphereCut { insets, rotation } => {
                let sides = insets.sides().map(|side| side.to_string()).join(",");
                vec![("insets", Text(Cow::Owned(sides))), ("rotation", Whole(rotation.degrees().into()))]
            }
            Finding::SphereEnlarged { scale } => vec![("scale", number(scale))],
            Finding::Squeeze(Squeezing::Twice { pixel_aspect, squeeze }) => {
                vec![("pixel_aspect", number(pixel_aspect)), ("squeeze", number(squeeze))]
            }
            Finding::Detour { detail, direct, through } => vec![
                ("detail", Axes(detail.clone().into())),
                ("direct", Axes(direct.clone().into())),
                ("through", Text(Cow::Owned(through.clone()))),
            ],
            Finding::RateMixed { from, to, .. } => vec![("from", number(from)), ("to", number(to))],
            Finding::Interlaced | Finding::NotSaid(_) | Finding::SphereUnsaid | Finding::SphereGone => Vec::new(),
            Finding::Range { from, to } => vec![("from", word(from.word())), ("to", word(to.word()))],
            Finding::OverLevel { codec, set, needed } => {
                let mut parts = vec![("codec", word(codec))];
                parts.extend(set.as_ref().map(|set| ("set", Text(Cow::Owned(set.clone())))));
                parts.extend(needed.map(|needed| ("needed", word(needed))));
                parts
            }
        };
        Self { code: finding.code(), severity: finding.severity().into(), message: finding.to_string(), data }
    }
}
