//! Daily copies of a data file, in `FILE.copies` beside it: one for each day on which something was changed.

use std::fs;
use std::path::{Path, PathBuf};

use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::backup::{self, Beside};

/// How many daily copies are kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Copies(pub usize);

fn folder(data: &Path) -> PathBuf {
    let mut folder = data.as_os_str().to_owned();
    folder.push(".copies");
    folder.into()
}

/// The copies that are there, the newest first.
pub fn of(data: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder(data)).into_iter().flatten().flatten();
    let mut copies: Vec<PathBuf> = entries
        .map(|entry| entry.path())
        .filter(|path| path.extension().is_some_and(|ending| ending == "db"))
        .collect();
    copies.sort_unstable_by(|one, other| other.cmp(one));
    copies
}

/// Makes the copy of this day if there is none and something was changed since the last one, and takes the oldest ones
/// away. Gives the copy that was made.
pub fn make(data: &Path, Copies(most): Copies, now: Timestamp) -> Result<Option<PathBuf>, String> {
    if most == 0 {
        return Ok(None);
    }
    let day = now.to_zoned(TimeZone::UTC).date();
    let folder = folder(data);
    let out = folder.join(format!("{day}.db"));
    let before = of(data);
    let changed = |path: &Path| fs::metadata(path).and_then(|about| about.modified()).ok();
    let mut journal = data.as_os_str().to_owned();
    journal.push("-wal");
    let newest = [data, Path::new(&journal)].into_iter().filter_map(changed).max();
    let is_new = before.first().is_none_or(|last| changed(last) < newest);
    if out.exists() || !is_new {
        return Ok(None);
    }
    let failed = |error: std::io::Error| format!("{} cannot be made: {error}", folder.display());
    fs::create_dir_all(&folder).map_err(failed)?;
    // Under another name until it is whole.
    let part = folder.join(format!("{day}.part"));
    let stills = |of: &Path| {
        let mut stills = of.as_os_str().to_owned();
        stills.push(".stills");
        PathBuf::from(stills)
    };
    remove(&part);
    backup::copy(data, &part, Beside::Linked)?;
    if stills(&part).exists() {
        fs::rename(stills(&part), stills(&out)).map_err(failed)?;
    }
    fs::rename(&part, &out).map_err(failed)?;
    for old in of(data).into_iter().skip(most) {
        remove(&old);
    }
    Ok(Some(out))
}

/// Takes a copy away, with its stills.
fn remove(copy: &Path) {
    let mut stills = copy.as_os_str().to_owned();
    stills.push(".stills");
    // OK because what stays is only in the way of its own day.
    let _ = fs::remove_file(copy);
    let _ = fs::remove_dir_all(stills);
}

#[cfg(test)]
mod tests {
    use std::path::Path;

    use ratiomet_core::project::{Name, Project, ProjectSettings};
    use ratiomet_store::Store;

    use super::{Copies, make, of};

    fn change(data: &Path, name: &str) {
        let store = Store::open(data).expect("a data file");
        let settings = ProjectSettings::named(Name::new(name).expect("a name"));
        store.add_project(&Project::new(settings), "The beginning").expect("added");
    }

    #[test]
    fn there_is_one_copy_for_each_day_with_changes_and_the_oldest_go() {
        let folder = tempfile::tempdir().expect("a folder");
        let data = folder.path().join("test.db");
        change(&data, "one");
        let on = |day: u8| format!("2027-03-{day:02}T09:00:00Z").parse().expect("a moment");
        let made = |day: u8, most: usize| make(&data, Copies(most), on(day)).expect("made").is_some();
        assert!(!made(1, 0), "none are wanted");
        assert!(made(1, 2));
        change(&data, "two");
        assert!(!made(1, 2), "one a day");
        assert!(made(2, 2));
        assert!(!made(3, 2), "nothing was changed");
        change(&data, "three");
        assert!(made(4, 2));
        let days: Vec<_> = of(&data).iter().map(|copy| copy.file_stem().expect("a name").to_owned()).collect();
        assert_eq!(days, ["2027-03-04", "2027-03-02"]);
        let projects = |copy: &Path| Store::open_for_reading(copy).expect("it opens").projects().expect("a list").len();
        assert_eq!(of(&data).iter().map(|copy| projects(copy)).collect::<Vec<_>>(), [3, 2]);
        assert_eq!(
            std::fs::read_dir(folder.path().join("test.db.copies")).expect("a folder").count(),
            2,
            "nothing else"
        );
    }
}
