//! Lists the files of texts, so that a new one is in the program without being named anywhere.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};
use std::{env, fs};

fn main() {
    let texts = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../texts");
    println!("cargo::rerun-if-changed={}", texts.display());
    let mut code = String::from("pub(crate) const MESSAGES_EN: &[&str] = &[\n");
    for file in files(&texts.join("en/core")) {
        let _ = writeln!(code, "    include_str!({:?}),", file.display().to_string());
    }
    code.push_str("];\n");
    for (name, country) in [("EN_US", "en-US"), ("EN_GB", "en-GB")] {
        let file = texts.join(country).join("terms.ftl").display().to_string();
        let _ = writeln!(code, "pub(crate) const TERMS_{name}: &str = include_str!({file:?});");
    }
    let out = PathBuf::from(env::var("OUT_DIR").expect("cargo sets it"));
    fs::write(out.join("files.rs"), code).expect("the folder that cargo gives can be written");
}

fn files(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder).expect("the folder of texts");
    let mut files: Vec<_> = entries.map(|entry| entry.expect("an entry").path()).collect();
    files.retain(|file| file.extension().is_some_and(|end| end == "ftl"));
    files.sort();
    files
}
