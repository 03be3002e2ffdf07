//! How samples are worked out, in requests and states.

use ratiomet_core::resampling::{Amount, Filter, Radius, Resampling, Sharpening, Smoothing, Steps, Transfer};

use crate::describe::{record, words};

words!(
    /// A filter for resampling.
    "Filter" for Filter, Filter::ALL, Filter::word
);

words!(
    /// A transfer function.
    "Transfer" for Transfer, Transfer::ALL, Transfer::word
);

words!(
    /// By how many steps a picture is enlarged.
    "Steps" for Steps, Steps::ALL, Steps::word
);

words!(
    /// What is done against noise before resampling.
    "Smoothing" for Smoothing, Smoothing::ALL, Smoothing::word
);

record!(
    /// Sharpening by an unsharp mask, after resampling.
    "Sharpening", "ways of sharpening" for Sharpening {
        /// How wide the blur is that it is made against: a standard deviation in pixels of the outcome.
        radius: Radius = Default(r#""1""#), |sharpening| sharpening.radius.clone();
        /// How much of the difference is added.
        amount: Amount = Required, |sharpening| sharpening.amount.clone();
    }
    |radius, amount| Ok(Sharpening { radius, amount })
);

record!(
    /// How the samples of an outcome are worked out.
    "Resampling", "ways of resampling" for Resampling {
        /// The filter.
        filter: Filter = Default(r#""lanczos3""#), |how| how.filter;
        /// In light, by this transfer function; null for the signal as stored.
        linear: Option<Transfer> = Default("null"), |how| how.light;
        /// At once, or by the smallest whole enlargement that reaches and then down by what remains.
        steps: Steps = Default(r#""one""#), |how| how.steps;
        /// What is done against noise before.
        smoothing: Smoothing = Default(r#""none""#), |how| how.smoothing;
        /// Sharpening afterwards; null for none.
        sharpening: Option<Sharpening> = Default("null"), |how| how.sharpening.clone();
    }
    |filter, linear, steps, smoothing, sharpening| Ok(Resampling { filter, light: linear, steps, smoothing, sharpening })
);
