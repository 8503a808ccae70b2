//! The household's passphrase: as it may be kept, whether one is right, and how strong it is in words.

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};

/// The fewest characters of a passphrase.
pub const LEAST: usize = 10;
/// The most: longer ones are no safer, and cost.
pub const MOST: usize = 200;

/// A passphrase that may be taken, as it is kept: by Argon2id, with a salt of its own.
///
/// # Errors
/// What is wrong with it, as a sentence.
pub fn kept(passphrase: &str) -> Result<String, String> {
    let length = passphrase.chars().count();
    if length < LEAST {
        return Err(format!(
            "Give at least {LEAST} characters: four words that have nothing to do with each other."
        ));
    }
    if length > MOST {
        return Err(format!("At most {MOST} characters."));
    }
    if strength(passphrase).weak {
        return Err("That is among the first that would be guessed. Take four words that have nothing to do with each other.".into());
    }
    let hash = Argon2::default().hash_password(passphrase.as_bytes());
    hash.map(|h| h.to_string()).map_err(|e| format!("It could not be kept: {e}."))
}

/// Whether a passphrase is the one that is kept. Right or wrong, it takes as long; so it does where none is kept.
pub fn is_right(passphrase: &str, kept: Option<&str>) -> bool {
    // Of nothing that anybody knows.
    const NONE: &str =
        "$argon2id$v=19$m=19456,t=2,p=1$JhuDGbTyALdBhIBYX0JWNQ$2CARO9uLxqLSvcHIgHV5CYfTSQEbhgfDePgNr8r8w6s";
    let Ok(hash) = PasswordHash::new(kept.unwrap_or(NONE)) else { return false };
    let right = Argon2::default().verify_password(passphrase.as_bytes(), &hash).is_ok();
    right && kept.is_some()
}

/// How strong a passphrase is.
pub struct Strength {
    /// Whether it is too weak to be taken.
    pub weak: bool,
    /// That in words.
    pub word: &'static str,
}

/// How strong a passphrase is, by how many guesses it would take.
pub fn strength(passphrase: &str) -> Strength {
    let cut: String = passphrase.chars().take(MOST).collect();
    let word = match zxcvbn::zxcvbn(&cut, &["cerealis", "kitchen", "bread"]).guesses_log10() {
        g if g < 6.0 => "weak: guessed in an hour",
        g if g < 8.0 => "fair: it would take days",
        g if g < 11.0 => "good: it would take years",
        _ => "strong: nobody guesses that",
    };
    Strength { weak: word.starts_with("weak"), word }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_kept_is_known_again_and_nothing_else_is() {
        let kept = kept("crumb river ladder nine").unwrap();
        assert!(kept.starts_with("$argon2id$") && !kept.contains("crumb"));
        assert!(is_right("crumb river ladder nine", Some(&kept)));
        for wrong in ["", "crumb river ladder nin", "Crumb river ladder nine", "crumb river ladder nine "] {
            assert!(!is_right(wrong, Some(&kept)), "{wrong}");
        }
        assert!(!is_right("crumb river ladder nine", None));
        assert_ne!(kept, super::kept("crumb river ladder nine").unwrap(), "each has its own salt");
    }

    #[test]
    fn what_is_short_or_guessed_first_is_not_taken() {
        for weak in ["short", "password12", "1234567890", "aaaaaaaaaaaa", "qwertyuiop"] {
            assert!(kept(weak).is_err(), "{weak}");
        }
        assert!(kept(&"x1y2".repeat(60)).is_err());
        assert!(strength("crumb river ladder nine").word.starts_with("strong"));
    }
}
