//! What waits for figures that nobody has looked up yet (C-47), and what is answered by looking one up.

use super::document::{OperationWork, Plan};
use super::index::OperationIx;
use super::missing_figure::MissingFigure;
use rigore_mechanics::quantity::Dimension;
use toml::{Table, Value};

impl MissingFigure {
    /// What the figure measures, where it measures something: a bare number is of that.
    pub fn dimension(&self, plan: &Plan) -> Option<Dimension> {
        if let Some(rest) = self.path.strip_prefix("clearance[") {
            let clearance = plan.clearances.get(rest.split_once(']')?.0.parse::<usize>().ok()?)?;
            return Some(clearance.dimension).filter(|_| clearance.per_bore.is_none());
        }
        let in_fastener = self.path.starts_with("fastener[");
        Some(match self.path.rsplit('.').next()? {
            "yield" | "tensile" if in_fastener => Dimension::Pressure,
            "bearing_diameter" | "height" => Dimension::Length,
            "torque" | "torque-angle" | "yield" | "castellated" | "recheck" | "limit" => Dimension::Torque,
            "angle" => Dimension::Angle,
            "stretch" => Dimension::Clearance,
            _ => return None,
        })
    }
}

/// Whether a plan's text is another one with open figures looked up, and nothing else: what was a question has an
/// answer, how far off it may be, and a source.
pub fn only_looked_up(old: &str, new: &str) -> bool {
    let (Ok(old), Ok(new)) = (old.parse::<Table>(), new.parse::<Table>()) else { return false };
    tables_looked_up(&old, &new)
}

fn tables_looked_up(old: &Table, new: &Table) -> bool {
    let open = |value: &Value| value.as_str().is_some_and(|text| text.starts_with('?'));
    let was_open = old.values().any(open);
    // What was assumed may be confirmed.
    let assumed = |table: &Table| table.get("assumed").and_then(Value::as_array).cloned().unwrap_or_default();
    let was_assumed = assumed(old);
    let confirmed = assumed(new).iter().all(|key| was_assumed.contains(key));
    let mut rest = old.iter().filter(|(key, _)| *key != "assumed");
    let kept = rest.all(|(key, was)| new.get(key).is_some_and(|now| looked_up(was, now)));
    let more = new.keys().filter(|key| !old.contains_key(*key));
    confirmed && kept && more.into_iter().all(|key| key == "source" || (key == "tolerance" && was_open))
}

fn looked_up(was: &Value, now: &Value) -> bool {
    match (was, now) {
        (Value::Table(was), Value::Table(now)) => tables_looked_up(was, now),
        (Value::Array(was), Value::Array(now)) => {
            was.len() == now.len() && was.iter().zip(now).all(|(was, now)| looked_up(was, now))
        }
        (Value::String(was), _) if was.starts_with('?') => true,
        _ => was == now,
    }
}

impl Plan {
    /// Adds what was found to be open; what is written once and stands for several is asked for once.
    pub(super) fn ask(&mut self, opens: Vec<MissingFigure>) {
        for figure in opens {
            if self.open.iter().all(|known| known.path != figure.path) {
                self.open.push(figure);
            }
        }
    }

    /// What an operation waits for that nobody has looked up yet, on an engine for such a use.
    pub fn wanted(&self, at: OperationIx, use_for: Option<&str>) -> impl Iterator<Item = &MissingFigure> {
        let of_use = move |of: &MissingFigure| of.use_for.is_none() || of.use_for.as_deref() == use_for;
        self.open.iter().filter(move |figure| figure.operations.contains(&at) && of_use(figure))
    }

    /// Finds which operations wait for what: those that run a stage, and those that judge a clearance.
    pub(super) fn find_waiting(&mut self) {
        let mut open = std::mem::take(&mut self.open);
        for figure in &mut open {
            let waits = |at: &OperationIx| match &self[*at].work {
                OperationWork::Tighten(work) => work.shares.iter().any(|share| {
                    let stages = &self[share.joint].stages[share.stages.clone()];
                    stages.iter().any(|stage| stage.way.wanted() == Some(&figure.path))
                }),
                OperationWork::Measure(_) => self.clearances.iter().any(|clearance| {
                    clearance.judged_in.contains(&Some(*at)) && clearance.opens.contains(&figure.path)
                }),
                _ => false,
            };
            figure.operations = self.line().filter(waits).collect();
        }
        self.open = open;
    }
}

#[cfg(test)]
mod tests {
    use super::only_looked_up;

    #[test]
    fn only_an_answer_to_a_question_is_looked_up() {
        let old = "a = 1\n[[joint]]\nid = \"x\"\n[[joint.stage]]\ntorque = \"? page 3\"\n[[clearance]]\nwindow = \"?\"\n[[item]]\nhole = \"blind\"\n";
        let change = |from: &str, to: &str| old.replacen(from, to, 1);
        let answered = change("\"? page 3\"", "\"45 N·m\"\ntolerance = \"2 N·m\"\nsource = \"page 3\"");
        for (new, looked_up) in [
            (old.to_owned(), true),
            (answered.clone(), true),
            (change("\"?\"", "{ street = [1, 2, 3] }"), true),
            (answered.replace("blind", "through"), false),
            (change("a = 1", "a = 2"), false),
            (change("a = 1", "a = 1\ntolerance = 2"), false),
            (change("\"? page 3\"", "\"45 N·m\"\nagain = true"), false),
            (change("torque", "angle"), false),
            (change("id = \"x\"\n", ""), false),
            ("a = ".to_owned(), false),
        ] {
            assert_eq!(only_looked_up(old, &new), looked_up, "{new}");
        }
        assert!(!only_looked_up(&answered, old));
    }
}
