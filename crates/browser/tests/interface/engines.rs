//! Three engines whose plans are made by forms alone, and that are then built by keyboard to their last signature.

use crate::keyboard::{by_keyboard, get, signed};
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use thirtyfour::Key;

/// Somebody who makes a plan, with what they did counted: each field that is filled, each choice, each tap.
struct Maker<'a> {
    screen: &'a Screen,
    rigore: &'a Rigore,
    actions: u32,
}

/// What the trade's usual engine has for this one, and what of it is not there.
struct Usual {
    name: &'static str,
    layout: &'static str,
    /// Choices of the form by their names.
    choices: &'static [(&'static str, &'static str)],
    fields: &'static [(&'static str, &'static str)],
    /// Boxes that are ticked, or taken off again.
    ticked: &'static [&'static str],
}

/// Limits as the manual prints them, for the road.
const LIMITS: [(&str, &str); 9] = [
    ("main-oil", "0.040 mm, 0.055 mm, 0.075 mm"),
    ("rod-oil", "0.035 mm, 0.050 mm, 0.070 mm"),
    ("piston-play", "0.030 mm, 0.050 mm, 0.070 mm"),
    ("top-gap", "0.35 mm, 0.45 mm, 0.60 mm"),
    ("second-gap", "0.35 mm, 0.45 mm, 0.60 mm"),
    ("crank-end-play", "0.08 mm, 0.15 mm, 0.25 mm"),
    ("rod-side-play", "0.15 mm, 0.30 mm, 0.45 mm"),
    ("deck", "0.10 mm, 0.30 mm, 0.50 mm"),
    ("valve-timing", "20°, 24°, 28°"),
];

/// What is measured on them.
fn size(site: &str) -> &'static str {
    let sizes = [
        ("main-journal", "60.000 mm"),
        ("main-bore", "60.055 mm"),
        ("rod-journal", "50.000 mm"),
        ("rod-bore", "50.050 mm"),
        ("cylinder", "74.000 mm"),
        ("piston-skirt", "73.950 mm"),
        ("top-ring", "0.45 mm"),
        ("second-ring", "0.45 mm"),
        ("end-play", "0.15 mm"),
        ("rod-side", "0.30 mm"),
        ("deck-height", "0.30 mm"),
        ("cam-timing", "24"),
        ("crankcase-to-bell-housing-face", "0.04 mm"),
        ("crank-end-float", "0.20 mm"),
        ("valve-lash", "0.15 mm"),
    ];
    sizes.iter().find(|(known, _)| site.starts_with(known)).map_or("", |(_, text)| text)
}

impl Maker<'_> {
    async fn fill(&mut self, css: &str, text: &str) -> Result<()> {
        self.actions += 1;
        self.screen.reach(css).await.with_context(|| css.to_owned())?;
        self.screen.fill(css, text).await.with_context(|| css.to_owned())
    }

    async fn tap(&mut self, css: &str) -> Result<()> {
        self.actions += 1;
        self.screen.reach(css).await.with_context(|| css.to_owned())?;
        self.screen.click(css).await.with_context(|| css.to_owned())
    }

    async fn choose(&mut self, css: &str, value: &str) -> Result<()> {
        self.actions += 1;
        self.screen.reach(css).await.with_context(|| css.to_owned())?;
        self.screen.choose(css, value).await.with_context(|| css.to_owned())
    }

    /// Adds one to a list by its choice, which is empty again at once.
    async fn add(&mut self, css: &str, value: &str) -> Result<()> {
        self.actions += 1;
        self.screen.reach(css).await.with_context(|| css.to_owned())?;
        let add = "const of = document.querySelector(arguments[0]); of.value = arguments[1]; \
            of.dispatchEvent(new Event('change', { bubbles: true })); return of.value === ''";
        let added = self.screen.driver.execute(add, vec![css.into(), value.into()]).await?;
        ensure!(added.json() == &serde_json::json!(true), "{css} has no {value}");
        Ok(())
    }

    /// Opens a form.
    async fn open(&mut self, css: &str) -> Result<()> {
        self.tap(css).await?;
        self.screen.see("[role='dialog'] [data-test='save-table']").await?;
        Ok(())
    }

    async fn save(&mut self) -> Result<()> {
        self.tap("[data-test='save-table']").await?;
        if let Err(open) = self.screen.count("[role='dialog']", 0).await {
            let wrong = "return [...document.querySelectorAll('[role=dialog] [role=alert]')].map((of) => of.textContent).join('; ')";
            let said = self.screen.driver.execute(wrong, Vec::new()).await?;
            return Err(open.context(said.json().to_string()));
        }
        Ok(())
    }

    /// A new plan with the usual shape of such an engine.
    async fn begin(&mut self, usual: &Usual) -> Result<()> {
        self.screen.go(&self.rigore.url("/plans/new")).await?;
        self.fill("[name='name']", usual.name).await?;
        self.tap(&format!("[data-test='layout-{}']", usual.layout)).await?;
        for (name, value) in usual.choices {
            self.choose(&format!("[name='{name}']"), value).await?;
        }
        for (name, text) in usual.fields {
            self.fill(&format!("[name='{name}']"), text).await?;
        }
        for name in usual.ticked {
            self.tap(&format!("[name='{name}']")).await?;
        }
        self.tap("[data-test='begin-plan']").await?;
        self.screen.read("h1", usual.name).await
    }

    /// The strengths on the heads, the limits and the procedures of its manual.
    async fn figures(&mut self, strengths: &[(&str, &str)], procedures: &[(&str, &str)]) -> Result<()> {
        let asked = "return [...document.querySelectorAll(\"[name^='open-fastener']\")].map((of) => [of.name, of.getAttribute('aria-label')])";
        let asked = self.screen.driver.execute(asked, Vec::new()).await?;
        for pair in asked.json().as_array().context("fasteners")?.clone() {
            let (name, label) = (pair[0].as_str().context("a name")?, pair[1].as_str().context("a label")?);
            let strength =
                strengths.iter().find(|(of, _)| label.starts_with(of)).map_or("8.8", |(_, text)| text);
            let css = format!("[name='{name}']");
            self.fill(&css, strength).await?;
            self.screen.keys(&char::from(Key::Enter).to_string()).await?;
            self.screen.count(&css, 0).await?;
        }
        for (id, text) in LIMITS {
            let css = format!("[name='{id}-street']");
            if self.screen.driver.find_all(thirtyfour::By::Css(css.as_str())).await?.is_empty() {
                continue;
            }
            self.fill(&css, text).await?;
            self.screen.keys(&char::from(Key::Tab).to_string()).await?;
        }
        for (joint, line) in procedures {
            self.fill(&format!("[name='procedure-{joint}']"), line).await?;
            self.screen
                .see(&format!("[data-test='joint-{joint}'] [data-test='canonical']"))
                .await
                .with_context(|| (*joint).to_owned())?;
            self.screen.keys(&char::from(Key::Enter).to_string()).await?;
            self.screen.count(&format!("[data-test='joint-{joint}'] [data-test='tried']"), 0).await?;
        }
        Ok(())
    }

    /// Confirms what the template assumed, publishes the plan and begins an engine on it; its id.
    async fn publish(&mut self) -> Result<String> {
        self.tap("[data-test='confirm-all']").await?;
        self.screen.count("[data-test='assumptions']", 0).await?;
        self.screen.count("[data-test='open-figures']", 0).await?;
        self.tap("[data-test='keep-version']").await?;
        self.tap("[data-test='keep-it']").await?;
        self.screen.see("[data-test='change-plan']").await?;
        let hash = self.screen.driver.current_url().await?;
        let hash = hash.path_segments().and_then(Iterator::last).map(str::to_owned).context("a hash")?;
        println!("a plan published after {} actions", self.actions);
        self.screen.go(&self.rigore.url("/")).await?;
        self.screen.click("[data-test='take-in']").await?;
        self.screen.fill("[role='dialog'] [name='name']", "By keyboard").await?;
        self.screen.choose("[role='dialog'] [name='plan']", &hash).await?;
        self.screen.click("[role='dialog'] button[type='submit']").await?;
        self.screen.read("h1", "By keyboard").await?;
        self.rigore.engine("By keyboard").await
    }
}

/// Builds an engine by keyboard alone, operation by operation, to the last signature.
async fn build(screen: &Screen, rigore: &Rigore, id: &str) -> Result<()> {
    let line = get(rigore, &format!("/api/builds/{id}")).await?["operations"].clone();
    for operation in line.as_array().context("operations")? {
        let key = operation["id"].as_str().context("a key")?;
        screen.go(&rigore.url(&format!("/engines/{id}/bench/{key}"))).await?;
        screen.read("h1", operation["name"].as_str().context("a name")?).await?;
        by_keyboard(screen, rigore, (id, key), size).await.with_context(|| key.to_owned())?;
        signed(rigore, id, key).await?;
    }
    let end = get(rigore, &format!("/api/builds/{id}")).await?;
    ensure!(end["status"] == "finished", "{}", end["issues"]);
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_v6_with_cross_bolted_mains_stretch_rods_and_a_sealed_lower_crankcase() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/plans")).await?;
    screen.enter_as("lead").await?;
    let mut maker = Maker { screen: &screen, rigore: &rigore, actions: 0 };
    maker
        .begin(&Usual {
            name: "Cairn 6",
            layout: "v",
            choices: &[("cylinders", "6"), ("cams", "block")],
            fields: &[("bore", "74"), ("spacing", "84"), ("v_angle", "60")],
            ticked: &[
                "main_studs",
                "head_studs",
                "cross-bolts",
                "timing-cover",
                "rear-cover",
                "intake",
                "water-pump",
                "damper",
                "flywheel",
            ],
        })
        .await?;
    maker
        .figures(
            &[("Main cap stud", "10.9"), ("Head stud", "10.9"), ("Rod bolt", "12.9")],
            &[
                ("main-caps", "bolts: 30 N·m, 60 N·m; cross: 20 N·m, centre out"),
                ("rod", "stretch 0.15 mm ± 0.01, not over 40 N·m"),
                ("head", "30 N·m, 60 N·m, centre out"),
                ("rockers", "20 N·m"),
                ("cam-drive", "20 N·m"),
                ("pan", "4 N·m snug, then 8 N·m"),
                ("rocker-cover", "8 N·m"),
            ],
        )
        .await?;
    // The pan is a lower crankcase that is sealed: a bead with its clock, snug, flush with the bell housing, torque.
    maker.fill("[aria-label='Name of Pan']", "Lower crankcase").await?;
    screen.keys(&char::from(Key::Tab).to_string()).await?;
    maker.tap("[data-test='write-out-pan']").await?;
    maker.open("[data-test='add-stage-pan']").await?;
    maker.choose("[name='stage-before']", "0").await?;
    maker.choose("[name='one-of']", "seal").await?;
    maker.fill("[role='dialog'] [name='name']", "Bead").await?;
    maker.fill("[name='seal']", "A bead of 2 mm inside of the bolts").await?;
    maker.fill("[name='within']", "20 min").await?;
    maker.tap("[data-test='offer-ready']").await?;
    maker.fill("[name='ready']", "Faces clean and dry\nBolts counted").await?;
    maker.save().await?;
    maker.open("[data-test='step-pan-tighten']").await?;
    maker.tap("[data-test='step-split']").await?;
    maker.choose("[name='split-after']", "2").await?;
    maker.fill("[name='between-what']", "Crankcase to bell-housing face").await?;
    maker.fill("[name='between-limits']", "at most 0.1 mm").await?;
    maker.tap("[data-test='split-it']").await?;
    screen.count("[role='dialog']", 0).await?;
    let id = maker.publish().await?;
    build(&screen, &rigore, &id).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_narrow_v12_with_cap_nuts_crowfoot_adapters_and_listed_orders() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/plans")).await?;
    screen.enter_as("lead").await?;
    let mut maker = Maker { screen: &screen, rigore: &rigore, actions: 0 };
    maker
        .begin(&Usual {
            name: "Fjord 12",
            layout: "v",
            choices: &[("cylinders", "12"), ("cams", "single")],
            fields: &[("bore", "74"), ("spacing", "84"), ("v_angle", "20")],
            ticked: &[
                "head_studs",
                "pan",
                "timing-cover",
                "rear-cover",
                "intake",
                "water-pump",
                "damper",
                "flywheel",
            ],
        })
        .await?;
    // What this shop does not measure again goes with all that is there for it.
    for clearance in ["piston-play", "top-gap", "second-gap", "rod-side-play", "deck"] {
        maker.tap(&format!("[data-test='take-out-{clearance}']")).await?;
        screen.count(&format!("[data-test='take-out-{clearance}']"), 0).await?;
    }
    maker
        .figures(
            &[("Main cap bolt", "10.9"), ("Head stud", "10.9"), ("Rod bolt", "12.9")],
            &[
                ("main-caps", "60 N·m, centre out"),
                ("rod", "20 N·m, 34 N·m"),
                ("head", "30 N·m, 60 N·m"),
                ("cam-caps", "9 N·m"),
                ("cam-drive", "20 N·m"),
                ("cam-cover", "8 N·m"),
            ],
        )
        .await?;
    // Cap nuts in a listed order, tapped; two of them are reached by a crowfoot only.
    maker.open("[data-test='add-adapter']").await?;
    maker.fill("[role='dialog'] [name='name']", "Crowfoot 14").await?;
    maker.fill("[role='dialog'] [name='length']", "40").await?;
    maker.fill("[role='dialog'] [name='angle']", "0").await?;
    maker.fill("[role='dialog'] [name='wrench']", "300").await?;
    maker.save().await?;
    maker.open("[data-test='edit-head-main']").await?;
    maker.fill("[role='dialog'] [name='name']", "cap nut").await?;
    maker.choose("[name='position[0].adapter']", "crowfoot-14").await?;
    maker.choose("[name='position[13].adapter']", "crowfoot-14").await?;
    maker.choose("[name='pattern']", "listed").await?;
    for name in ["A4", "B4", "A3", "B5", "A5", "B3", "A2", "B6", "A6", "B2", "A1", "B7", "A7", "B1"] {
        maker.actions += 1;
        let tap = format!(
            "document.querySelector(\"[data-test='order-{name}']\").dispatchEvent(new MouseEvent('click', {{ bubbles: true }}))"
        );
        screen.driver.execute(&tap, Vec::new()).await.with_context(|| name.to_owned())?;
    }
    maker.save().await?;
    let id = maker.publish().await?;
    let bench = get(&rigore, &format!("/api/builds/{id}/operations/head-tighten")).await?;
    let first = &bench["work"]["joints"][0]["fasteners"][0];
    ensure!(first["id"] == "A4" && first["adapter"].is_null(), "the order that was tapped: {first}");
    build(&screen, &rigore, &id).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_single_with_a_roller_crank_castellated_nuts_and_shims() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/plans")).await?;
    screen.enter_as("lead").await?;
    let mut maker = Maker { screen: &screen, rigore: &rigore, actions: 0 };
    maker
        .begin(&Usual {
            name: "Skarn 1",
            layout: "inline",
            choices: &[("cylinders", "1"), ("cams", "block"), ("rods", "castellated")],
            fields: &[("bore", "74"), ("spacing", "90")],
            ticked: &["pan", "timing-cover", "rear-cover", "intake", "water-pump", "damper"],
        })
        .await?;
    // Rollers carry the crank: no caps, no oil clearance; halves of the crankcase are bolted, and shims set the float.
    maker.tap("[data-test='take-out-main-oil']").await?;
    screen.count("[data-test='take-out-main-oil']", 0).await?;
    maker.tap("[data-test='take-out-main-caps']").await?;
    screen.count("[data-test='take-out-main-caps']", 0).await?;
    maker.tap("[data-test='add-joint']").await?;
    maker.fill("[name='joint-name']", "Crankcase halves").await?;
    maker.choose("[name='joint-fastener']", "head").await?;
    maker.fill("[name='joint-count']", "8").await?;
    maker.fill("[name='joint-procedure']", "15 N·m, 30 N·m, criss-cross").await?;
    maker.tap("[data-test='keep-joint']").await?;
    screen.see("[data-test='joint-crankcase-halves']").await?;
    maker.open("[data-test='add-slot']").await?;
    maker.fill("[role='dialog'] [name='name']", "Lash shim").await?;
    maker.fill("[role='dialog'] [name='count']", "2").await?;
    maker.tap("[data-test='offer-returns']").await?;
    maker.save().await?;
    maker.open("[data-test='step-take-in']").await?;
    maker.add("[name='slots']", "lash-shim").await?;
    maker.save().await?;
    for (name, count) in [("Crank end float", "1"), ("Valve lash", "2")] {
        maker.open("[data-test='step-timing-turn']").await?;
        maker.tap("[data-test='step-after']").await?;
        maker.tap("[data-test='step-measure']").await?;
        maker.fill("[name='step-what']", name).await?;
        maker.fill("[name='step-count']", count).await?;
        maker.fill("[name='step-window']", "0.10 mm to 0.30 mm").await?;
        maker.tap("[data-test='keep-step']").await?;
        screen.count("[role='dialog']", 0).await?;
    }
    maker
        .figures(
            &[("Head bolt", "10.9"), ("Rod bolt", "12.9"), ("Flywheel", "12.9")],
            &[
                ("rod", "24 to 30 N·m, forward to the next slot"),
                ("head", "30 N·m, 50 N·m"),
                ("rockers", "20 N·m"),
                ("cam-drive", "20 N·m"),
                ("rocker-cover", "8 N·m"),
                ("flywheel", "30 N·m, 60 N·m"),
            ],
        )
        .await?;
    let id = maker.publish().await?;
    build(&screen, &rigore, &id).await?;
    screen.close().await
}
