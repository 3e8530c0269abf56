//! The names of one module and the paths that its code uses.

use proc_macro2::{TokenStream, TokenTree};
use std::collections::{BTreeMap, BTreeSet};
use syn::visit::{self, Visit};
use syn::{Attribute, Item, ItemUse, Macro, Path, UseTree};

/// A path as it is written, by its segments.
pub type Segments = Vec<String>;

/// One module: a file, or a module written inside one.
#[derive(Debug, Default)]
pub struct Scope {
    /// The number of its file.
    pub file: usize,
    /// The module that it is in.
    pub parent: Option<usize>,
    /// Modules in it, by name.
    pub children: BTreeMap<String, usize>,
    /// What it defines itself.
    pub items: BTreeSet<String>,
    /// Names that it imports or exports again, with the paths that they stand for: a macro may have the name of a module.
    pub imports: BTreeMap<String, Vec<Segments>>,
    /// Modules of which it imports everything.
    pub globs: Vec<Segments>,
    /// Every path that its code uses.
    pub paths: BTreeSet<Segments>,
}

/// Whether an item is for tests only.
pub fn is_test(attributes: &[Attribute]) -> bool {
    attributes.iter().any(|attribute| {
        attribute.path().is_ident("cfg")
            && attribute.parse_args::<syn::Ident>().is_ok_and(|argument| argument == "test")
    })
}

impl Scope {
    /// Adds what one item defines, imports and uses; modules are read by whoever knows their files.
    pub fn add(&mut self, item: &Item) {
        match item {
            Item::Use(import) => return self.import(import),
            Item::Const(of) => self.define(&of.ident),
            Item::Enum(of) => self.define(&of.ident),
            Item::Fn(of) => self.define(&of.sig.ident),
            Item::Static(of) => self.define(&of.ident),
            Item::Struct(of) => self.define(&of.ident),
            Item::Trait(of) => self.define(&of.ident),
            Item::Type(of) => self.define(&of.ident),
            Item::Macro(of) => of.ident.iter().for_each(|name| self.define(name)),
            _ => {}
        }
        let mut used = UsedPaths::default();
        used.visit_item(item);
        self.paths.extend(used.0);
    }

    fn define(&mut self, name: &syn::Ident) {
        self.items.insert(name.to_string());
    }

    fn import(&mut self, import: &ItemUse) {
        if import.leading_colon.is_none() {
            self.import_tree(&import.tree, &mut Vec::new());
        }
    }

    fn import_tree(&mut self, tree: &UseTree, before: &mut Segments) {
        match tree {
            UseTree::Path(path) => {
                before.push(path.ident.to_string());
                self.import_tree(&path.tree, before);
                before.pop();
            }
            UseTree::Name(name) if name.ident == "self" => {
                let named = before.last().cloned().unwrap_or_default();
                self.imports.entry(named).or_default().push(before.clone());
            }
            UseTree::Name(name) => self.import_as(&name.ident, &name.ident, before),
            UseTree::Rename(renamed) => self.import_as(&renamed.ident, &renamed.rename, before),
            UseTree::Glob(_) => self.globs.push(before.clone()),
            UseTree::Group(group) => group.items.iter().for_each(|tree| self.import_tree(tree, before)),
        }
    }

    fn import_as(&mut self, name: &syn::Ident, alias: &syn::Ident, before: &Segments) {
        let path = before.iter().cloned().chain([name.to_string()]).collect();
        self.imports.entry(alias.to_string()).or_default().push(path);
    }
}

/// Collects the paths that code uses, those inside macros too.
#[derive(Default)]
struct UsedPaths(BTreeSet<Segments>);

impl<'ast> Visit<'ast> for UsedPaths {
    fn visit_path(&mut self, path: &'ast Path) {
        self.0.insert(path.segments.iter().map(|segment| segment.ident.to_string()).collect());
        visit::visit_path(self, path);
    }

    fn visit_macro(&mut self, of: &'ast Macro) {
        visit::visit_macro(self, of);
        self.tokens(of.tokens.clone());
    }

    /// What is used inside a module that is written here is the module's.
    fn visit_item_mod(&mut self, _: &'ast syn::ItemMod) {}
}

impl UsedPaths {
    /// Paths in what a macro is given: names with `::` between them that follow no point.
    fn tokens(&mut self, tokens: TokenStream) {
        let (mut path, mut colons, mut follows_point) = (Segments::new(), 0, false);
        for token in tokens {
            match token {
                TokenTree::Ident(name) => {
                    if colons != 2 {
                        self.end(&mut path);
                    }
                    if !follows_point {
                        path.push(name.to_string());
                    }
                    (colons, follows_point) = (0, false);
                }
                TokenTree::Punct(sign) if sign.as_char() == ':' => colons += 1,
                TokenTree::Group(group) => {
                    self.end(&mut path);
                    (colons, follows_point) = (0, false);
                    self.tokens(group.stream());
                }
                other => {
                    self.end(&mut path);
                    colons = 0;
                    follows_point = matches!(other, TokenTree::Punct(sign) if sign.as_char() == '.');
                }
            }
        }
        self.end(&mut path);
    }

    fn end(&mut self, path: &mut Segments) {
        if !path.is_empty() {
            self.0.insert(std::mem::take(path));
        }
    }
}
