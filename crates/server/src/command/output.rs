//! What a command prints.

use std::fmt::Display;
use std::io::Write;

/// Tells on standard error what is being done now, before something that takes a while.
pub fn progress(doing: impl Display) {
    let _ = writeln!(std::io::stderr(), "{doing} …");
}

/// Prints a line. A reader that went away, such as `head`, is no error.
pub fn say(line: impl Display) {
    let _ = writeln!(std::io::stdout(), "{line}");
}
