//! `ratiomet people`: who may use a shared server.

use std::io::{IsTerminal, stdin};
use std::path::{Path, PathBuf};

use clap::{Args, Subcommand};
use jiff::{SignedDuration, Timestamp};
use ratiomet_core::words::counted;

use super::{FORMAT, Password, People, Person, Role, TOKEN, Token};
use crate::secret::{self, digest};

/// The longest name.
const LONGEST_NAME: usize = 60;

/// What is done with the file of people.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// Add somebody; the password is asked for, or is the first line of standard input
    Add {
        /// The name that is typed to log in
        name: String,
        /// What is allowed
        #[arg(long, value_enum, default_value = "plan")]
        role: Role,
        #[command(flatten)]
        file: File,
    },
    /// Give somebody another password; who is logged in is logged out
    Password {
        /// The name
        name: String,
        #[command(flatten)]
        file: File,
    },
    /// Give somebody another role
    Role {
        /// The name
        name: String,
        /// What is allowed from now on
        #[arg(value_enum)]
        role: Role,
        #[command(flatten)]
        file: File,
    },
    /// Make a token for a script, which is printed once
    Token {
        /// What it is for
        name: String,
        /// What is allowed
        #[arg(long, value_enum, default_value = "look")]
        role: Role,
        /// For how many days it counts
        #[arg(long, default_value = "90", value_parser = clap::value_parser!(u16).range(1..=730))]
        days: u16,
        #[command(flatten)]
        file: File,
    },
    /// Take somebody, or a token, off; a running server knows it at once
    Remove {
        /// The name
        name: String,
        #[command(flatten)]
        file: File,
    },
    /// Tell who is known
    List {
        #[command(flatten)]
        file: File,
    },
}

/// Which file.
#[derive(Debug, Args)]
pub struct File {
    /// The file of people; it is made if it does not exist
    #[arg(long, value_name = "FILE")]
    people: PathBuf,
}

impl File {
    /// Who is known; nobody where there is no file.
    fn or_new(&self) -> Result<People, String> {
        if self.people.exists() { People::read(&self.people) } else { Ok(People::default()) }
    }
}

/// Carries it out.
///
/// # Errors
/// A sentence for the person who typed it.
pub fn run(command: Command) -> Result<(), String> {
    match command {
        Command::Add { name, role, file } => {
            let mut people = file.or_new()?;
            let name = sound(&people, &name)?;
            let password = asked(&name)?.kept();
            println!("{name} is known now, with the role {role}.");
            people.people.push(Person { name, role, password });
            save(&people, &file.people)
        }
        Command::Password { name, file } => {
            let mut people = People::read(&file.people)?;
            let name = people.person(&name).ok_or_else(|| nobody(&name, &people))?.name.clone();
            people.set_password(&name, &asked(&name)?)?;
            save(&people, &file.people)
        }
        Command::Role { name, role, file } => {
            let mut people = People::read(&file.people)?;
            let known = nobody(&name, &people);
            people.person_mut(&name).ok_or(known)?.role = role;
            save(&people, &file.people)
        }
        Command::Token { name, role, days, file } => {
            let mut people = file.or_new()?;
            let name = sound(&people, &name)?;
            let until = Timestamp::now() + SignedDuration::from_hours(24 * i64::from(days));
            let token = format!("{TOKEN}{}", secret::random::<32>());
            people.tokens.push(Token { name, role, until, sha256: digest(&token) });
            save(&people, &file.people)?;
            println!("{token}");
            eprintln!("Send it as Authorization: Bearer TOKEN. It counts until {until:.0} and is not shown again.");
            Ok(())
        }
        Command::Remove { name, file } => {
            let mut people = People::read(&file.people)?;
            let before = people.people.len() + people.tokens.len();
            let lower = name.to_lowercase();
            people.people.retain(|person| person.name.to_lowercase() != lower);
            people.tokens.retain(|token| token.name.to_lowercase() != lower);
            if people.people.len() + people.tokens.len() == before {
                return Err(nobody(&name, &people));
            }
            save(&people, &file.people)
        }
        Command::List { file } => {
            let people = People::read(&file.people)?;
            for person in &people.people {
                println!("{}\t{}", person.name, person.role);
            }
            let now = Timestamp::now();
            for token in &people.tokens {
                let ended = if token.until <= now { "ended" } else { "until" };
                println!("{}\t{}\ttoken, {ended} {:.0}", token.name, token.role, token.until);
            }
            Ok(())
        }
    }
}

fn save(people: &People, path: &Path) -> Result<(), String> {
    people.write(path)?;
    let known = format!(
        "{} and {} (format {FORMAT})",
        if people.people.len() == 1 { "1 person".to_owned() } else { format!("{} people", people.people.len()) },
        counted(people.tokens.len(), "token"),
    );
    eprintln!("{}: {known}", path.display());
    Ok(())
}

fn nobody(name: &str, people: &People) -> String {
    let names = people.people.iter().map(|person| &person.name).chain(people.tokens.iter().map(|token| &token.name));
    let names: Vec<_> = names.map(String::as_str).collect();
    format!(
        "nobody is called {name}; known are: {}",
        if names.is_empty() { "nobody".to_owned() } else { names.join(", ") }
    )
}

/// A name that can be taken.
fn sound(people: &People, name: &str) -> Result<String, String> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > LONGEST_NAME || name.chars().any(char::is_control) {
        return Err(format!("a name needs 1 to {LONGEST_NAME} characters on one line, such as \"Ada\""));
    }
    let lower = name.to_lowercase();
    let taken = people.person(name).is_some() || people.tokens.iter().any(|token| token.name.to_lowercase() == lower);
    if taken {
        return Err(format!(
            "{name} is known already; take another name, or give a new password with ratiomet people password"
        ));
    }
    Ok(name.to_owned())
}

fn taken(text: &str, name: &str) -> Result<Password, String> {
    Password::new(text, name).map_err(|must| format!("the password must be {must}"))
}

/// A password from whoever sits there, typed twice, or from standard input.
fn asked(name: &str) -> Result<Password, String> {
    if !stdin().is_terminal() {
        let mut line = String::new();
        stdin().read_line(&mut line).map_err(|error| format!("the password cannot be read: {error}"))?;
        return taken(line.trim_end_matches(['\n', '\r']), name);
    }
    let ask = |words: &str| {
        rpassword::prompt_password(words).map_err(|error| format!("the password cannot be read: {error}"))
    };
    let typed = ask(&format!("Password of {name}: "))?;
    let password = taken(&typed, name)?;
    if ask("The same again: ")? != typed {
        return Err("the two are not the same; nothing was changed".to_owned());
    }
    Ok(password)
}
