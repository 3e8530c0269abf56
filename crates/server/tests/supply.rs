//! What Rigore is made of: every package comes from the registry, under a licence that lets it be given on.

use serde_json::Value;
use std::process::Command;

const LICENCES: &[&str] = &[
    "0BSD",
    "Apache-2.0",
    "Apache-2.0 WITH LLVM-exception",
    "BSD-2-Clause",
    "BSD-3-Clause",
    "BSL-1.0",
    "CC0-1.0",
    "ISC",
    "MIT",
    "MIT-0",
    "Unicode-3.0",
    "Unlicense",
    "Zlib",
];

/// Whether a licence in SPDX's words may be used: one of those that are offered, and all of those that are asked for.
fn may_be_used(licence: &str) -> bool {
    let plain = licence.replace('/', " OR ").replace(['(', ')'], "");
    plain.split(" AND ").all(|all| all.split(" OR ").any(|one| LICENCES.contains(&one.trim())))
}

#[test]
fn licences_are_read() {
    for (licence, may) in [
        ("MIT OR Apache-2.0", true),
        ("MIT/GPL-3.0-only", true),
        ("(MIT OR Apache-2.0) AND Unicode-3.0", true),
        ("MIT AND GPL-3.0-only", false),
        ("AGPL-3.0-only", false),
        ("", false),
    ] {
        assert_eq!(may_be_used(licence), may, "{licence}");
    }
}

#[test]
fn every_package_may_be_given_on_and_comes_from_the_registry() {
    let cargo = std::env::var("CARGO").unwrap_or_else(|_| "cargo".to_owned());
    // What only another system needs is in no binary of this one, and nobody has fetched it.
    let system = format!("{}-unknown-linux-gnu", std::env::consts::ARCH);
    let metadata =
        ["metadata", "--format-version", "1", "--locked", "--offline", "--filter-platform", &system];
    let said = Command::new(cargo).args(metadata).output().expect("cargo runs");
    assert!(said.status.success(), "{}", String::from_utf8_lossy(&said.stderr));
    let told: Value = serde_json::from_slice(&said.stdout).expect("JSON");
    let packages = told["packages"].as_array().expect("packages");
    assert!(packages.len() > 100, "{}", packages.len());
    for package in packages {
        let name = package["name"].as_str().unwrap_or_default();
        let Some(source) = package["source"].as_str() else {
            assert!(name.starts_with("rigore-"), "{name} comes from a folder");
            continue;
        };
        assert!(source.starts_with("registry+"), "{name} comes from {source}");
        let licence = package["license"].as_str().unwrap_or_default();
        assert!(may_be_used(licence), "{name} is under `{licence}`");
    }
}
