//! Room on the disks that a shop is kept on.

use nix::sys::statvfs::statvfs;
use rigore_mechanics::text;
use std::path::{Path, PathBuf};

/// A disk is nearly full where less of it is free than this share, and less than so many bytes.
const SHARE: f64 = 0.1;
const BYTES: u64 = 2 << 30;

/// Bytes that are free on the disk of a folder, and all that it has; none where the system does not tell.
pub fn space(folder: &Path) -> Option<(u64, u64)> {
    let of = statvfs(folder).ok()?;
    let block = of.fragment_size();
    Some((of.blocks_available().saturating_mul(block), of.blocks().saturating_mul(block)))
}

/// Whether so much room is too little to go on for long.
fn is_nearly_full((free, all): (u64, u64)) -> bool {
    #[expect(clippy::cast_precision_loss, reason = "shares of a disk need no more")]
    let share = free as f64 / all.max(1) as f64;
    share < SHARE && free < BYTES
}

/// The first of some folders whose disk is nearly full, in words.
pub fn fault(folders: &[PathBuf]) -> Option<String> {
    let full =
        folders.iter().find_map(|folder| Some((folder, space(folder).filter(|of| is_nearly_full(*of))?)));
    full.map(|(folder, (free, _))| {
        text!(
            "server-disk-nearly-full-mb-free-without",
            folder = folder.display().to_string(),
            free = free >> 20
        )
    })
}

#[cfg(test)]
mod tests {
    use super::{is_nearly_full, space};
    use std::path::Path;

    #[test]
    fn a_disk_that_fills_is_told_before_it_is_full() {
        const GB: u64 = 1 << 30;
        assert!(is_nearly_full((GB, 100 * GB)) && is_nearly_full((0, 0)));
        assert!(!is_nearly_full((50 * GB, 100 * GB)), "half of it is free");
        assert!(!is_nearly_full((5 * GB, 1000 * GB)), "little of a large one is much");
        assert!(!is_nearly_full((GB, 4 * GB)), "a small one that is a quarter free");
        assert!(space(Path::new("/")).is_some_and(|(free, all)| all > 0 && free <= all));
        assert!(space(Path::new("/no such folder")).is_none());
    }
}
