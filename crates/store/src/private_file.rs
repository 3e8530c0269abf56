//! Files that only their owner reads: backups, exports, secrets. Each is written beside its place and then renamed, so that
//! it is there whole or not at all.

use std::fs::{self, OpenOptions};
use std::io::{self, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};

/// Where a file is written before it is whole.
pub(crate) fn beside(file: &Path) -> PathBuf {
    let mut name = file.file_name().unwrap_or_default().to_owned();
    name.push(format!(".{}.part", std::process::id()));
    file.with_file_name(name)
}

/// A new file that only its owner may read and write.
pub(crate) fn create(file: &Path) -> io::Result<fs::File> {
    OpenOptions::new().write(true).create_new(true).mode(0o600).open(file)
}

/// Gives a file that is written whole its name.
pub(crate) fn put(part: &Path, file: &Path) -> io::Result<()> {
    fs::File::open(part)?.sync_all()?;
    fs::rename(part, file)
}

/// Writes a file that only its owner may read, all of it or nothing, in place of one that is there.
///
/// # Errors
/// Where it cannot be written; what was there before is as it was.
pub fn write(file: &Path, bytes: &[u8]) -> io::Result<()> {
    let part = beside(file);
    let written = create(&part).and_then(|mut open| open.write_all(bytes)).and_then(|()| put(&part, file));
    if written.is_err() {
        let _ = fs::remove_file(&part);
    }
    written
}

/// Writes a file that only its owner may read, unless one is there already: then that stays.
///
/// # Errors
/// Where it cannot be written.
pub(crate) fn write_new(file: &Path, bytes: &[u8]) -> io::Result<()> {
    let part = beside(file);
    write(&part, bytes)?;
    let linked = fs::hard_link(&part, file);
    fs::remove_file(&part)?;
    match linked {
        Err(error) if error.kind() != io::ErrorKind::AlreadyExists => Err(error),
        _ => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use std::os::unix::fs::PermissionsExt;

    #[test]
    fn a_file_is_its_owners_and_whole_or_as_it_was() {
        let folder = tempfile::tempdir().expect("a folder");
        let file = folder.path().join("engine.zip");
        super::write(&file, b"one").expect("written");
        assert_eq!(std::fs::metadata(&file).expect("it is there").permissions().mode() & 0o777, 0o600);
        super::write(&file, b"two").expect("written again");
        assert_eq!(std::fs::read(&file).expect("read"), b"two");
        assert!(super::write(&folder.path().join("no folder/engine.zip"), b"x").is_err());
        let left: Vec<_> = std::fs::read_dir(folder.path()).expect("a folder").collect();
        assert_eq!(left.len(), 1, "nothing half written is left");
    }
}
