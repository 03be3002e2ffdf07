//! Passwords: which are taken, and how they are kept and checked (Argon2id, RFC 9106).

use argon2::Argon2;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use zxcvbn::{Score, zxcvbn};

/// The fewest characters of a password, and the most bytes.
pub const SHORTEST: usize = 12;
const LONGEST: usize = 1024;

/// A password that is taken.
pub struct Password(String);

impl Password {
    /// # Errors
    /// What it must be.
    pub fn new(text: &str, name: &str) -> Result<Self, String> {
        let characters = text.chars().count();
        if characters < SHORTEST {
            return Err(format!(
                "at least {SHORTEST} characters long, such as four unrelated words; this one has {characters}"
            ));
        }
        if text.len() > LONGEST {
            return Err(format!("at most {LONGEST} bytes long"));
        }
        if is_guessed(text, name) {
            return Err("harder to guess, such as four unrelated words: no common password, name, row of keys or date"
                .to_owned());
        }
        Ok(Self(text.to_owned()))
    }

    /// As it is kept: with a salt of its own.
    ///
    /// # Panics
    /// Where the system has no source of random numbers: nothing is safe there.
    pub fn kept(&self) -> String {
        let mut random = [0; 16];
        getrandom::fill(&mut random).expect("the system has random numbers");
        let salt = SaltString::encode_b64(&random).expect("as long as salts are");
        Argon2::default().hash_password(self.0.as_bytes(), &salt).expect("its own parameters").to_string()
    }
}

/// Whether somebody who knows common passwords, words, names, rows of keys and dates guesses it within a hundred million
/// tries, whose name it is among them.
fn is_guessed(text: &str, name: &str) -> bool {
    zxcvbn(text, &[name, "ratiomet"]).score() < Score::Three
}

/// Whether a text is a password as it is kept.
pub fn is_kept(text: &str) -> bool {
    PasswordHash::new(text).is_ok_and(|hash| hash.algorithm.as_str() == "argon2id")
}

/// What is checked where nobody has a name: it takes as long, and no password is right.
const NOBODY: &str = "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5IGlzIGhlcmU$SG0y0o6Qkz4X2b6a8l0mYFQwJ0m1bqk1o1m8l3n6bYo";

/// Whether a password is that of somebody, or of nobody. It takes its time on purpose.
pub fn check(typed: &str, kept: Option<&str>) -> bool {
    let Ok(hash) = PasswordHash::new(kept.unwrap_or(NOBODY)) else { return false };
    let fits = typed.len() <= LONGEST && Argon2::default().verify_password(typed.as_bytes(), &hash).is_ok();
    fits && kept.is_some()
}

#[cfg(test)]
mod tests {
    use super::{NOBODY, Password, check, is_kept};

    #[test]
    fn a_password_is_known_again_and_no_other() {
        let password = Password::new("kiln tide lantern seven", "Ada").expect("a good one");
        let kept = password.kept();
        assert!(is_kept(&kept) && is_kept(NOBODY));
        assert_ne!(kept, password.kept(), "each has a salt of its own");
        assert!(check("kiln tide lantern seven", Some(&kept)));
        assert!(!check("kiln tide lantern sevem", Some(&kept)));
        assert!(!check("kiln tide lantern seven", None));
    }

    #[test]
    fn what_is_easily_guessed_is_not_taken() {
        for (text, why) in [
            ("eleven char", "at least 12"),
            ("aaaaaaaaaaaaaaaa", "harder to guess"),
            ("adaadaadaada", "harder to guess"),
            ("Password123!", "harder to guess"),
            ("qwertyuiop123", "harder to guess"),
            ("123456789987654321", "harder to guess"),
            ("Ratiomet2026", "harder to guess"),
        ] {
            let refused = Password::new(text, "Ada").err().unwrap_or_default();
            assert!(refused.contains(why), "{text}: {refused}");
        }
        assert!(Password::new(&"kiln tide ".repeat(200), "Ada").is_err_and(|why| why.contains("bytes")));
    }
}
