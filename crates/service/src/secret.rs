//! What nobody can guess, and what is kept of it.

use sha2::{Digest, Sha256};

fn hexadecimal(bytes: &[u8]) -> String {
    bytes.iter().map(|byte| format!("{byte:02x}")).collect()
}

/// So many random bytes in hexadecimal digits.
///
/// # Panics
/// Where the system has no source of random numbers: nothing is safe there.
pub fn random<const BYTES: usize>() -> String {
    let mut bytes = [0; BYTES];
    getrandom::fill(&mut bytes).expect("the system has random numbers");
    hexadecimal(&bytes)
}

/// By what a secret is known again: its SHA-256 in hexadecimal digits.
pub fn digest(secret: &str) -> String {
    hexadecimal(&Sha256::digest(secret))
}
