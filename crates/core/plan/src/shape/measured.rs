//! Parts that come with the engine, what is measured, and the clearances that follow. Their windows are to be looked up.

use super::frame::ShapeFrame;
use super::text::{ShapeText, mm};

/// Keys of the sizes that parts share.
const MAINS: &str = "main-journal-size";
const PINS: &str = "rod-journal-size";
const BORE: &str = "bore-size";

/// Slots for parts.
pub(super) fn slots(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    text.heading("parts");
    let cylinders = frame.each_cylinder();
    let banks = frame.members();
    let all: [(&str, &str, &str, &[&str]); 12] = [
        ("block", "Block", "", &[BORE]),
        ("crankshaft", "Crankshaft", "", &[MAINS, PINS]),
        ("rod", "Rod and cap", &cylinders, &[]),
        ("piston", "Piston", &cylinders, &[BORE]),
        ("main-shells", "Main bearing shells", "", &[MAINS]),
        ("rod-shells", "Rod bearing shells", "", &[PINS]),
        ("rings", "Piston rings", "", &[BORE]),
        ("rod-bolts", "Rod bolts", "", &[]),
        ("camshaft", if frame.overhead() { "Camshafts" } else { "Camshaft and lifters" }, "", &[]),
        ("head-part", "Cylinder head", &banks, &[]),
        ("head-gasket", "Head gasket", &banks, &[]),
        ("gaskets", "Gaskets and seals", "", &[]),
    ];
    for (id, name, besides, sizes) in all {
        text.table("slot", id, name);
        text.raw(besides);
        // A rod goes with its cap to the place whose number both carry (C-56).
        if id == "rod" && !besides.is_empty() {
            text.line("numbered = true");
        }
        if !sizes.is_empty() {
            let sizes: Vec<String> = sizes.iter().map(|size| format!("\"{size}\"")).collect();
            text.line(&format!("sizes = [{}]", sizes.join(", ")));
        }
    }
}

/// Sizes that parts share: crankshaft and shells, bores, pistons and rings (C-55).
pub(super) fn sizes(text: &mut ShapeText) {
    text.heading("sizes that go together; compared when parts are logged in");
    for (id, name, worn) in [
        (MAINS, "Main bearing size", "under"),
        (PINS, "Rod bearing size", "under"),
        (BORE, "Bore size", "over"),
    ] {
        text.table("size", id, name);
        let choices = ["0.25", "0.50", "0.75", "1.00"].map(|mm| format!(", \"{mm} mm {worn}\""));
        text.line(&format!("choices = [\"standard\"{}]", choices.concat()));
    }
}

/// What is measured.
pub(super) fn sites(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    text.heading("what is measured; a reading outside of what is plausible is asked about");
    let bore = frame.engine.bore_mm;
    let (mains, cylinders) = (frame.mains, frame.engine.cylinders);
    let mut put = |id: &str,
                   name: &str,
                   count: u32,
                   form: &str,
                   places: &str,
                   [low, high]: [f64; 2],
                   material: &str| {
        text.table("site", id, name);
        if count > 1 {
            text.line(&format!("count = {count}"));
        }
        text.field("form", form);
        text.raw(places);
        text.line(&format!("plausible = [\"{} mm\", \"{} mm\"]", mm(low), mm(high)));
        if !material.is_empty() {
            text.field("material", material);
            text.assumed(&["material"]);
        }
    };
    let round = "planes = [\"front\", \"rear\"]\nangles = [0, 90]\n";
    let journal = [bore * 0.4, bore * 1.0];
    let shells_in = format!("shells_in = true\n{round}");
    put("main-bore", "Main bearing bore, shells in", mains, "bore", &shells_in, journal, "steel");
    put("main-journal", "Main journal", mains, "journal", round, journal, "steel");
    let pin = [bore * 0.35, bore * 0.9];
    let shells_in = "shells_in = true\nangles = [0, 90]\n";
    put("rod-bore", "Rod bearing bore, shells in", cylinders, "bore", shells_in, pin, "steel");
    put("rod-journal", "Rod journal", cylinders, "journal", "angles = [0, 90]\n", pin, "steel");
    let cylinder = [bore * 0.97, bore * 1.03];
    put(
        "cylinder",
        "Cylinder",
        cylinders,
        "bore",
        "planes = [\"top\", \"middle\", \"bottom\"]\nangles = [0, 90]\n",
        cylinder,
        "cast-iron",
    );
    put("piston-skirt", "Piston at the gauge point", cylinders, "journal", "", cylinder, "aluminium");
    put("top-ring", "Top ring", cylinders, "ring", "", [0.1, 1.5], "");
    put("second-ring", "Second ring", cylinders, "ring", "", [0.1, 2.0], "");
    put("end-play", "Crankshaft end play", 1, "gap", "", [0.1, 1.0], "");
    put("rod-side", "Rod side clearance", frame.side_clearances(), "gap", "", [0.1, 1.0], "");
    put("deck-height", "Piston below the deck", cylinders, "deck", "", [0.1, 3.0], "");
    text.table("site", "cam-timing", "Intake opens before top");
    text.field("form", "angle");
    text.line("plausible = [\"0°\", \"90°\"]");
}

/// What follows from that.
pub(super) fn clearances(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let used_for = frame.engine.used_for.key();
    text.heading(&format!(
        "clearances: a window is three rising figures, such as {used_for} = [\"0.040 mm\", \"0.050 mm\", \"0.065 mm\"]"
    ));
    let mut put = |id: &str, name: &str, follows: &str| {
        text.table("clearance", id, name);
        text.raw(follows);
        text.line(&format!("window = {{ {used_for} = \"?\" }}"));
    };
    put("main-oil", "Main bearing oil clearance", "plus = \"main-bore\"\nminus = \"main-journal\"\n");
    put("rod-oil", "Rod bearing oil clearance", "plus = \"rod-bore\"\nminus = \"rod-journal\"\n");
    put("piston-play", "Piston to bore", "plus = \"cylinder\"\nminus = \"piston-skirt\"\n");
    put("top-gap", "Top ring gap", "plus = \"top-ring\"\nfiled = true\n");
    put("second-gap", "Second ring gap", "plus = \"second-ring\"\nfiled = true\n");
    put("crank-end-play", "Crankshaft end play", "plus = \"end-play\"\n");
    put("rod-side-play", "Rod side clearance", "plus = \"rod-side\"\n");
    put("deck", "Piston below the deck", "plus = \"deck-height\"\n");
    put("valve-timing", "Intake opens before top", "plus = \"cam-timing\"\n");
}
