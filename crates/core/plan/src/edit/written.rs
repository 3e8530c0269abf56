//! What is written at a path.

use super::path::{DocumentNode, PathStep, steps};
use std::collections::BTreeMap;
use toml_edit::DocumentMut;

/// A text whose fields are looked up by path.
#[derive(Debug)]
pub struct SourceText(Option<DocumentMut>);

impl SourceText {
    /// A text; one that is no TOML has no fields.
    pub fn of(text: &str) -> Self {
        Self(text.parse().ok())
    }

    /// What is written at a path, without its quotes; `None` where nothing is.
    pub fn at(&self, path: &str) -> Option<String> {
        self.node(path)?.written()
    }

    /// Everything that is written in a table, by its path inside of it.
    pub fn all(&self, table: &str) -> BTreeMap<String, String> {
        let mut all = BTreeMap::new();
        if let Some(node) = self.node(table) {
            node.gather("", &mut all);
        }
        all
    }

    /// The keys of a list of tables, in their order.
    pub fn ids(&self, list: &str) -> Vec<String> {
        let ids = (0..).map_while(|at| self.node(&format!("{list}[{at}]")));
        ids.map(|one| {
            one.inner(&PathStep::Key("id".to_owned())).and_then(DocumentNode::written).unwrap_or_default()
        })
        .collect()
    }

    fn node(&self, path: &str) -> Option<DocumentNode<'_>> {
        let mut at = DocumentNode::Table(self.0.as_ref()?.as_table());
        for step in steps(path).ok()? {
            at = at.inner(&step)?;
        }
        Some(at)
    }
}
