//! Writing plan text.

use std::fmt::Write;

/// The text that is being written.
#[derive(Debug, Default)]
pub(super) struct ShapeText(String);

/// A figure as a plan has it: to a tenth of a millimetre.
pub(super) fn mm(value: f64) -> String {
    let text = format!("{value:.1}");
    let text = text.strip_suffix(".0").unwrap_or(&text);
    if text == "-0" { "0".to_owned() } else { text.to_owned() }
}

/// A place.
pub(super) fn at([x, y]: [f64; 2]) -> String {
    format!("[{}, {}]", mm(x), mm(y))
}

impl ShapeText {
    pub fn line(&mut self, line: &str) {
        self.0 += line;
        self.0.push('\n');
    }

    pub fn field(&mut self, key: &str, text: &str) {
        let _ = writeln!(self.0, "{key} = {}", toml::Value::String(text.to_owned()));
    }

    /// Fields that say what is usual, until somebody confirms them for this engine.
    pub fn assumed(&mut self, keys: &[&str]) {
        let keys: Vec<String> = keys.iter().map(|key| format!("\"{key}\"")).collect();
        self.line(&format!("assumed = [{}]", keys.join(", ")));
    }

    /// A heading, as a comment.
    pub fn heading(&mut self, words: &str) {
        let _ = writeln!(self.0, "\n# ---- {words}");
    }

    /// A table with its key and name.
    pub fn table(&mut self, list: &str, id: &str, name: &str) {
        let _ = writeln!(self.0, "\n[[{list}]]");
        self.field("id", id);
        self.field("name", name);
    }

    /// Lines as they are.
    pub fn raw(&mut self, lines: &str) {
        self.0 += lines;
    }

    pub fn done(self) -> String {
        self.0
    }
}
