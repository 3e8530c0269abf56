//! What a command prints.

use std::fmt::Display;
use std::io::Write;

/// Prints a line. A reader that went away, such as `head`, is no error.
pub fn say(line: impl Display) {
    let _ = writeln!(std::io::stdout(), "{line}");
}
