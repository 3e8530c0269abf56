//! The plans that ship with Rigore, and those that are one of them but for some lines.

use anyhow::{Context, Result};
use rigore_plan::Plan;
use rigore_store::{PlanRow, Store};

/// The plans that ship with Rigore: file name and text.
pub const PLANS: &[(&str, &str)] = &[
    ("plans/tarn-5.toml", include_str!("../../../../plans/tarn-5.toml")),
    ("plans/ostra-11.toml", include_str!("../../../../plans/ostra-11.toml")),
    ("plans/skerry-8.toml", include_str!("../../../../plans/skerry-8.toml")),
];
/// Plans that are another one but for some lines: file name, the plan that it is made of, and what is put in place
/// of what.
const VARIANTS: &[Variant] = &[Variant {
    file: "plans/tarn-5.toml, rods by angle",
    of: 0,
    changes: &[
        ("id = \"tarn-5\"\nname = \"Tarn 5\"", "id = \"tarn-5-angle\"\nname = \"Tarn 5, rods by angle\""),
        (
            r#"  name = "Stretch"
  group = "bolts"
  stretch = "0.150 mm"
  tolerance = "0.005 mm"
  step = "10 N·m"
  zero = true
  loosen_between = true
  set = "0.005 mm"
"#,
            r#"  name = "Snug"
  group = "bolts"
  torque = "12 N·m"
  tolerance = "1 N·m"

  [[joint.stage]]
  name = "Angle"
  group = "bolts"
  angle = "41°"
  tolerance = "4°"

  [[joint.stage]]
  name = "Its stretch as proof"
  group = "bolts"
  stretch = "0.150 mm"
  tolerance = "0.025 mm"
  proof = true
  set = "0.005 mm"
"#,
        ),
    ],
}];

/// A plan that is another one but for some lines.
struct Variant {
    file: &'static str,
    of: usize,
    changes: &'static [(&'static str, &'static str)],
}

impl Variant {
    /// Its text; `None` where the other plan does not have what is changed.
    fn text(&self) -> Option<String> {
        let (_, of) = PLANS.get(self.of)?;
        self.changes.iter().try_fold((*of).to_owned(), |text, (from, to)| {
            text.contains(from).then(|| text.replace(from, to))
        })
    }
}

/// Every plan of the demonstration: file name and text.
fn plans() -> Result<Vec<(&'static str, String)>> {
    let variant = |variant: &Variant| {
        let text =
            variant.text().with_context(|| format!("{}: what is changed is not there", variant.file))?;
        Ok((variant.file, text))
    };
    let shipped = PLANS.iter().map(|(file, text)| Ok((*file, (*text).to_owned())));
    shipped.chain(VARIANTS.iter().map(variant)).collect()
}

/// Adds them all, judged as any other.
///
/// # Errors
/// Where one of them is wrong or the store fails.
pub(super) async fn load(store: &Store) -> Result<Vec<PlanRow>> {
    let mut rows = Vec::new();
    for (file, source) in plans()? {
        let (plan, _) = Plan::judge(file, &source).map_err(|faults| {
            anyhow::anyhow!(faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"))
        })?;
        rows.push(store.add_plan(&source, &plan).await?);
    }
    Ok(rows)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_plan_of_the_demonstration_is_one_without_a_warning() {
        let plans = plans().expect("plans");
        assert_eq!(plans.len(), PLANS.len() + VARIANTS.len());
        for (file, text) in plans {
            let (_, warnings) = Plan::judge(file, &text).expect("a plan");
            assert_eq!(warnings, [], "{file}");
        }
    }
}
