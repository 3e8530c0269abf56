//! What a calculation is sensitive to: what one percent more of each figure does to its first result.

use super::{FieldKind, calculations, run};
use serde::Serialize;
use serde_json::Value;

/// How much a result moves with one percent more of a figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sensitivity {
    /// The figure that goes in.
    pub input: String,
    /// The result that moves.
    pub output: String,
    /// By how much, percent.
    pub percent: f64,
}

/// A move of so little, percent, is none.
const NONE: f64 = 0.005;

/// What a calculation is sensitive to at an input, the most first; nothing where it cannot be run there.
pub fn sensitivity(name: &str, text: &str) -> Vec<Sensitivity> {
    let Some(calculation) = calculations().find(|calculation| calculation.name == name) else {
        return Vec::new();
    };
    let (Ok(base), Ok(Value::Object(input))) = (run(name, text), serde_json::from_str::<Value>(text)) else {
        return Vec::new();
    };
    let result = calculation.output.iter().find_map(|key| Some((*key, base.get(key)?.as_f64()?)));
    let Some((output, was)) = result.filter(|(_, was)| *was != 0.0) else { return Vec::new() };
    let moved = |field: &super::InputField| {
        let figure = input.get(field.name)?.as_f64().filter(|figure| *figure != 0.0)?;
        // What is counted has no percents.
        if matches!(field.kind, FieldKind::Whole(..)) {
            return None;
        }
        let mut more = input.clone();
        more.insert(field.name.to_owned(), (figure * 1.01).into());
        let now = run(name, &Value::Object(more).to_string()).ok()?.get(output)?.as_f64()?;
        let percent = (now / was - 1.0) * 100.0;
        (percent.is_finite() && percent.abs() > NONE).then(|| Sensitivity {
            input: field.name.to_owned(),
            output: output.to_owned(),
            percent,
        })
    };
    let mut all: Vec<Sensitivity> = calculation.input.iter().filter_map(moved).collect();
    all.sort_by(|a, b| b.percent.abs().total_cmp(&a.percent.abs()));
    all
}

#[cfg(test)]
mod tests {
    use super::sensitivity;

    #[test]
    fn a_torque_gives_load_in_proportion_and_friction_takes_it() {
        let input = r#"{"thread": "M10x1.25", "torque_nm": 65, "mu_thread": 0.1, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}"#;
        let all = sensitivity("preload-from-torque", input);
        assert_eq!((all[0].input.as_str(), all[0].output.as_str()), ("torque_nm", "preload_kn"));
        assert!((all[0].percent - 1.0).abs() < 1e-9);
        assert!(all[1..].iter().all(|of| of.percent < 0.0), "{all:?}");
        assert_eq!(sensitivity("preload-from-torque", "{}"), []);
        assert_eq!(sensitivity("nothing", input), []);
    }
}
