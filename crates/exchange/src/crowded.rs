//! JSON of others is counted before anything is made of it: a byte of it may cost thirty.

/// The most values of one file: of 20,000 clips with 100 each.
const MOST: usize = 2_000_000;

/// What to say of a text that holds more values than any file of this kind.
///
/// # Errors
/// A sentence that names the most.
pub(crate) fn refuse(text: &[u8]) -> Result<(), String> {
    if values(text) > MOST { Err(format!("at most {MOST} values in one file; this one has more")) } else { Ok(()) }
}

/// At least as many as there are values in it, whatever it is.
fn values(text: &[u8]) -> usize {
    let (mut count, mut quoted, mut escaped) = (1, false, false);
    for byte in text {
        match byte {
            _ if escaped => escaped = false,
            b'\\' if quoted => escaped = true,
            b'"' => quoted = !quoted,
            b',' | b'[' | b'{' if !quoted => count += 1,
            _ => {}
        }
    }
    count
}

#[cfg(test)]
mod tests {
    use super::{MOST, refuse, values};

    #[test]
    fn values_are_counted_and_texts_are_not_looked_into() {
        assert_eq!(values(br#"{"a":[1,2,{"b":"x,[\\\"{"}]}"#), 6);
        let zeros = |count: usize| format!("[{}0]", "0,".repeat(count));
        assert!(refuse(zeros(MOST - 2).as_bytes()).is_ok());
        assert!(refuse(zeros(MOST).as_bytes()).is_err_and(|why| why.contains("2000000 values")));
    }
}
