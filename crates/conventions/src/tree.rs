//! The modules of one crate, and which file uses which.

use crate::scope::{Scope, Segments, is_test};
use anyhow::{Context, Result};
use petgraph::algo::tarjan_scc;
use petgraph::graphmap::DiGraphMap;
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};
use syn::{Item, Visibility};

/// How often a name is followed through re-exports at most.
const DEEPEST: usize = 12;

/// A file that uses a name of another one.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct Import {
    /// The file that uses it.
    pub from: PathBuf,
    /// The file that defines it.
    pub to: PathBuf,
    /// The name, as it is written where it is used.
    pub name: String,
}

/// A type with the file that defines it.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct SourceType {
    /// Its name.
    pub name: String,
    /// Its file.
    pub file: PathBuf,
    /// Whether it is public without a limit.
    pub is_public: bool,
}

/// The modules of one crate, without those for tests.
#[derive(Debug, Default)]
pub struct SourceTree {
    files: Vec<PathBuf>,
    scopes: Vec<Scope>,
    types: Vec<SourceType>,
}

impl SourceTree {
    /// Reads a crate from its root file, `src/lib.rs` or `src/main.rs`, on.
    ///
    /// # Errors
    /// Where a file is not there or is no Rust.
    pub fn read(root: &Path) -> Result<Self> {
        let mut tree = Self::default();
        let folder = root.parent().context("a folder")?;
        tree.read_file(root, folder, None)?;
        Ok(tree)
    }

    /// The types that it defines.
    pub fn types(&self) -> &[SourceType] {
        &self.types
    }

    /// Reads a file; `folder` is where its own modules are.
    fn read_file(&mut self, path: &Path, folder: &Path, parent: Option<usize>) -> Result<usize> {
        let source = fs::read_to_string(path).with_context(|| path.display().to_string())?;
        let parsed = syn::parse_file(&source).with_context(|| path.display().to_string())?;
        let file = self.files.len();
        self.files.push(path.to_owned());
        self.read_module(&parsed.items, file, folder, parent)
    }

    fn read_module(
        &mut self,
        items: &[Item],
        file: usize,
        folder: &Path,
        parent: Option<usize>,
    ) -> Result<usize> {
        let number = self.scopes.len();
        self.scopes.push(Scope { file, parent, ..Scope::default() });
        for item in items {
            if let Item::Mod(module) = item {
                if is_test(&module.attrs) {
                    continue;
                }
                let name = module.ident.to_string();
                let inside = folder.join(&name);
                let child = match &module.content {
                    Some((_, items)) => self.read_module(items, file, &inside, Some(number))?,
                    None if inside.join("mod.rs").is_file() => {
                        self.read_file(&inside.join("mod.rs"), &inside, Some(number))?
                    }
                    None => self.read_file(&folder.join(format!("{name}.rs")), &inside, Some(number))?,
                };
                self.scopes[number].children.insert(name, child);
            } else {
                self.note_type(item, file);
                self.scopes[number].add(item);
            }
        }
        Ok(number)
    }

    fn note_type(&mut self, item: &Item, file: usize) {
        let (visibility, name) = match item {
            Item::Enum(of) => (&of.vis, &of.ident),
            Item::Struct(of) => (&of.vis, &of.ident),
            Item::Trait(of) => (&of.vis, &of.ident),
            Item::Type(of) => (&of.vis, &of.ident),
            _ => return,
        };
        let is_public = matches!(visibility, Visibility::Public(_));
        self.types.push(SourceType { name: name.to_string(), file: self.files[file].clone(), is_public });
    }

    /// Which file uses names of which other one.
    pub fn imports(&self) -> BTreeSet<Import> {
        let used = self.scopes.iter().enumerate().flat_map(|(number, scope)| {
            scope.paths.iter().filter_map(move |path| {
                let to = self.definition(number, path, DEEPEST)?;
                (to != scope.file).then(|| Import {
                    from: self.files[scope.file].clone(),
                    to: self.files[to].clone(),
                    name: path.join("::"),
                })
            })
        });
        used.collect()
    }

    /// The file that defines what a path names; nothing for a module itself and for what is another crate's.
    fn definition(&self, scope: usize, path: &[String], depth: usize) -> Option<usize> {
        if depth == 0 {
            return None;
        }
        let (first, rest) = path.split_first()?;
        match first.as_str() {
            "crate" => self.definition(0, rest, depth),
            "self" => self.definition(scope, rest, depth),
            "super" => self.definition(self.scopes[scope].parent?, rest, depth),
            name => self.named(scope, name, rest, depth),
        }
    }

    fn named(&self, scope: usize, name: &str, rest: &[String], depth: usize) -> Option<usize> {
        let of = &self.scopes[scope];
        if of.items.contains(name) {
            return Some(of.file);
        }
        let follow = |path: &Segments| {
            let whole: Segments = path.iter().chain(rest).cloned().collect();
            self.definition(scope, &whole, depth - 1)
        };
        let mut imports = of.imports.get(name).into_iter().flatten();
        if let Some(found) = imports.find_map(|import| follow(import).filter(|_| import[..] != [name])) {
            return Some(found);
        }
        if let Some(child) = of.children.get(name) {
            return self.definition(*child, rest, depth);
        }
        of.globs.iter().find_map(|glob| {
            let path: Segments = glob.iter().cloned().chain([name.to_owned()]).collect();
            follow(&path)
        })
    }

    /// Files that use each other in a circle, each circle with the imports between its files.
    pub fn circles(&self) -> Vec<Vec<Import>> {
        let imports = self.imports();
        let numbers: BTreeMap<&Path, usize> =
            self.files.iter().enumerate().map(|(number, file)| (file.as_path(), number)).collect();
        let edges =
            imports.iter().map(|import| (numbers[import.from.as_path()], numbers[import.to.as_path()]));
        let graph: DiGraphMap<usize, ()> = DiGraphMap::from_edges(edges);
        let circles = tarjan_scc(&graph).into_iter().filter(|files| files.len() > 1);
        let among = |files: Vec<usize>| {
            let inside = |file: &PathBuf| files.contains(&numbers[file.as_path()]);
            imports.iter().filter(|import| inside(&import.from) && inside(&import.to)).cloned().collect()
        };
        circles.map(among).collect()
    }
}
