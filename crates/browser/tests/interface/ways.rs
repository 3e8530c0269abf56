//! Every way of tightening at the real interface.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_plan::Plan;
use rigore_store::{Scratch, Store};
use serde_json::{Value, json};

const WAYS: &str = include_str!("../../../core/plan/tests/ways-plan.toml");

/// An engine to the plan that has a joint for each way.
async fn engine(scratch: &Scratch, rigore: &Rigore) -> Result<String> {
    let (plan, _) = Plan::judge("ways.toml", WAYS).map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    let hash = Store::connect(&scratch.url, 1).await?.add_plan(WAYS, &plan).await?.hash;
    let id = uuid::Uuid::now_v7();
    let body = json!({"id": id, "name": "Ways no. 1", "plan": hash});
    let answer = post(rigore, "/api/builds", &body).await?;
    Ok(answer["build"].as_str().context("a build")?.to_owned())
}

async fn post(rigore: &Rigore, path: &str, body: &Value) -> Result<Value> {
    let request =
        rigore_browser::client().post(rigore.url(path)).header("cookie", "rigore=demonstration.lead");
    Ok(request.json(body).send().await?.error_for_status()?.json().await?)
}

async fn bench(rigore: &Rigore, build: &str, operation: &str) -> Result<Value> {
    Ok(rigore_browser::get(rigore.url(&format!("/api/builds/{build}/operations/{operation}")))
        .await?
        .json()
        .await?)
}

/// Does what is next in an operation so many times, as another person at another screen would.
pub(crate) async fn advance(rigore: &Rigore, build: &str, operation: &str, steps: usize) -> Result<()> {
    for _ in 0..steps {
        let bench = bench(rigore, build, operation).await?;
        let step = &bench["step"];
        let tools = bench["work"]["tools"][0]["tools"].as_array();
        let wrench = tools.and_then(|tools| tools.iter().find(|tool| tool["id"] == "wrench-2"));
        let (joint, stage, fastener) = (&step["joint"], &step["stage"], &step["fastener"]);
        let what = match step["kind"].as_str() {
            Some("act") => json!({"type": "act", "operation": operation, "joint": joint, "stage": stage}),
            Some("pull") => {
                let plain = &step["asks"]["plain"][0]["figure"];
                let shown = &wrench.context("a wrench")?["target"]["shown"];
                let figure = if plain.is_null() { shown } else { plain };
                let method = if plain.is_null() { "typed" } else { "seen" };
                json!({"type": "pull", "operation": operation, "joint": joint, "stage": stage,
                    "fastener": fastener, "reading": {"text": figure.to_string()}, "method": method,
                    "instrument": "wrench-2"})
            }
            _ => json!({"type": "sign", "operation": operation}),
        };
        let command = json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "action": what});
        post(rigore, &format!("/api/builds/{build}/commands"), &command).await?;
    }
    Ok(())
}

/// The large key, once it listens.
async fn key(screen: &Screen, words: &str) -> Result<()> {
    screen.read("[data-test='heard'][data-listens='true']", words).await?;
    screen.line("").await
}

/// The key that says that something was done by hand, once it can be pressed.
async fn done(screen: &Screen) -> Result<()> {
    screen.see("[data-test='acted']:enabled").await?;
    screen.line("").await
}

async fn asked(screen: &Screen, fastener: &str, stage: &str) -> Result<()> {
    screen.read("[data-test='fastener']", fastener).await?;
    screen.read("[aria-current='step']", stage).await
}

/// Twelve bolts of a row: two by one key, eight by somebody else, and the last two by the key again.
async fn row(screen: &Screen, rigore: &Rigore, build: &str, word: &str) -> Result<()> {
    for done in [0, 1, 10, 11] {
        if done == 10 {
            // What was said on the key is there before anybody else goes on.
            screen.read("[aria-current='step']", "2/12").await?;
            advance(rigore, build, "main-caps-outer", 8).await?;
        }
        screen.read("[aria-current='step']", &format!("{done}/12")).await?;
        key(screen, word).await?;
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn outer_and_side_bolts_are_tightened_by_one_key_alone() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 13").await?;
    advance(&rigore, &id, "main-caps-tighten", 6 + 1 + 12 + 1).await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/main-caps-outer"))).await?;

    // Run down by hand: one will not go at first.
    screen.click("[data-test='map-3Lo']").await?;
    screen.read("[data-test='resisting']", "3Lo not run down").await?;
    screen.click("[data-test='acted']").await?;
    screen.read("[data-test='resisting']", "Tap a fastener").await?;
    screen.read(".bench-hand", "3Lo did not run down").await?;
    done(&screen).await?;
    // Twelve outer bolts in two steps, each set once and heard; then each is looked at again.
    for (setting, stage, word) in [
        ("20.0 N·m", "Outer 1 of 2", "It clicked"),
        ("39.0 N·m", "Outer 2 of 2", "It clicked"),
        ("", "Outer recheck", "It holds"),
    ] {
        screen.read("[aria-current='step']", stage).await?;
        if !setting.is_empty() {
            screen.read("[data-test='set-first']", setting).await?;
            key(&screen, "It is set").await?;
        }
        row(&screen, &rigore, &id, word).await?;
    }
    // What has to be ready is asked first; the bead starts the clock, and the side bolts follow.
    screen.read(".bench-hand", "twelve new sealing washers are laid out").await?;
    done(&screen).await?;
    screen.read(".bench-hand", "Thread sealant on the side bolts").await?;
    screen.read("[data-test='acted']", "Done").await?;
    done(&screen).await?;
    screen.read("[data-test='clock']", "left").await?;
    screen.read("[data-test='set-first']", "20.0 N·m").await?;
    key(&screen, "It is set").await?;
    row(&screen, &rigore, &id, "It clicked").await?;
    screen.see("[data-test='sign']:enabled").await?;
    let work = bench(&rigore, &id, "main-caps-outer").await?["work"].clone();
    let pulls = work["pulls"].as_array().context("pulls")?;
    let by = |method: &str| pulls.iter().filter(|pull| pull["method"] == method).count();
    assert_eq!((by("clicked"), by("seen"), by("typed")), (3 * 4, 12, 3 * 8));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_angle_to_yield_is_given_once_whatever_crashes_and_whoever_else_has_a_screen() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let mut rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let (screen, other) = (browser.window(1280, 800).await?, browser.window(1280, 800).await?);
    let id = engine(&scratch, &rigore).await?;
    advance(&rigore, &id, "wheel", 3 + 3 + 3 + 2).await?;
    for window in [&screen, &other] {
        window.go(&rigore.url(&format!("/engines/{id}/bench/wheel"))).await?;
        asked(window, "3", "First angle").await?;
    }
    // Both screens type for the last of the first angles; the server is killed between its two angles.
    other.keys("45").await?;
    screen.line("45").await?;
    asked(&screen, "1", "Second angle").await?;
    screen.line("45").await?;
    asked(&screen, "2", "Second angle").await?;
    rigore.crash()?;
    screen.line("45").await?;
    screen.see("[data-test='away']").await?;
    rigore.start_again().await?;
    asked(&screen, "3", "Second angle").await?;
    // What the other had begun is for a bolt that has had it: it is asked about, not doubled.
    other.read("[data-test='before']", "You began typing for 3, First angle").await?;
    other.line("").await?;
    other.read("[data-test='refusal']", "3 was just pulled on another screen").await?;
    other.line("").await?;
    other.read("[data-test='asked']", "3 has had First angle (45°), and it is done once").await?;
    other.keys("\u{e00c}").await?;
    asked(&other, "3", "Second angle").await?;
    // A bolt that has had both is tapped and typed for by mistake.
    screen.click("[data-test='map-1']").await?;
    screen.line("45").await?;
    screen.read("[data-test='asked']", "1 has had Second angle (45°), and it is done once").await?;
    screen.keys("\u{e00c}").await?;
    screen.click("[data-test='map-1']").await?;
    asked(&screen, "3", "Second angle").await?;
    screen.line("45").await?;
    for window in [&screen, &other] {
        window.see("[data-test='sign']:enabled").await?;
    }
    let pulls = bench(&rigore, &id, "wheel").await?["work"]["pulls"].as_array().map(Vec::len);
    assert_eq!(pulls, Some(15), "each bolt has each stage once");
    // Loosened, it is scrap: a new one goes in and asks for all three again.
    let loosen = json!({"type": "loosen", "operation": "wheel", "fastener": "2", "reason": "to look at it"});
    let command = json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "action": loosen});
    post(&rigore, &format!("/api/builds/{id}/commands"), &command).await?;
    screen.read("[data-test='issues']", "2 was loosened and the old fastener is still in").await?;
    asked(&screen, "2", "Seat").await?;
    assert!(rigore.run("verify")?.contains(" 0 broken"));
    screen.close().await?;
    other.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_castellated_nut_is_drawn_up_by_feel_goes_on_to_its_slot_and_its_twist_is_looked_at() -> Result<()>
{
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Ostra 11 no. 4").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/rods-tighten"))).await?;
    // By feel, with the dial wrench, whose scale is in its own unit.
    asked(&screen, "A", "By feel").await?;
    screen.read("[data-test='question']", "Pull until torque stops rising").await?;
    screen.click("select[name='instrument'] option[value='wrench-4']").await?;
    screen.read("[data-test='target']", "40.0").await?;
    screen.read("[data-test='target']", "lbf·ft").await?;
    screen.line("39").await?;
    // How far it is to the next slot is computed; the nut goes on, and is seen to stand at it.
    screen.read("[data-test='question']", "Forward to the next slot").await?;
    screen.see("#past-slot").await?.send_keys("42").await?;
    screen.read("[data-test='advance']", "18°").await?;
    screen.see("[data-test='heard'][data-listens='true']").await?;
    screen.click("[data-test='heard']").await?;
    screen.read("[data-test='question']", "How far is the pin hole twisted?").await?;
    screen.line("6").await?;
    // The other one yields too early, and is turned back: said, and for a lead.
    asked(&screen, "B", "By feel").await?;
    screen.line("31").await?;
    screen.read("[data-test='issues']", "B: 42.03 N·m, it stopped rising too early").await?;
    screen.click("[data-test='acknowledge']").await?;
    asked(&screen, "B", "By feel, slot").await?;
    screen.line("-1").await?;
    screen.read("[data-test='asked']", "-1 is unlikely").await?;
    screen.see("[data-test='heard'][data-listens='true']").await?;
    screen.line("").await?;
    screen.read("[data-test='issues']", "it has lost its clamp").await?;
    screen.read("[data-test='pulls']", "Turned back").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bolt_under_a_crowfoot_is_set_for_and_read_at_the_bolt() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 18").await?;
    advance(&rigore, &id, "head-tighten", 6).await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/head-tighten"))).await?;
    asked(&screen, "S3", "Small row").await?;
    screen.click("select[name='instrument'] option[value='wrench-2']").await?;
    screen.count("[data-test='adapter']", 0).await?;
    screen.line("22").await?;
    // 22 N·m at the bolt, 40 mm beyond a wrench of 520 mm.
    asked(&screen, "S2", "Small row").await?;
    screen.read("[data-test='adapter']", "Crowfoot 12, 40 mm").await?;
    screen.read("[data-test='target']", "20.4").await?;
    screen.keys("y").await?;
    screen.read("dl", "on a wrench of 520 mm: set 20.4 N·m").await?;
    screen.line("20.4").await?;
    screen.read("[data-test='pulls']", "21.97 N·m at the fastener").await?;
    // A wrench that is too long or too short is told apart by its own length, and one by its scale.
    screen.click("[data-test='map-S4']").await?;
    screen.click("select[name='instrument'] option[value='wrench-3']").await?;
    screen.read("[data-test='target']", "19.1").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_trial_is_taken_apart_in_the_reverse_order() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = engine(&scratch, &rigore).await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/trial"))).await?;
    screen.read("[data-test='trial']", "Trial tightening, to be taken apart again").await?;
    advance(&rigore, &id, "trial", 1 + 3 * 3 + 1).await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/apart"))).await?;
    // Tightened 2, 1, 3: loosened 3, 1, 2.
    screen.read("[data-test='fastener']", "3").await?;
    screen.line("").await?;
    screen.read("[data-test='fastener']", "1").await?;
    // One out of its turn is kept and marked.
    screen.click("[data-test='map-2']").await?;
    screen.click("[data-test='loose']").await?;
    screen.read("[data-test='issues']", "2: out of sequence: 1 was next").await?;
    screen.line("").await?;
    screen.read("h1", "Take the caps off again").await?;
    screen.read(".bench-hand", "All loose").await?;
    let engine = rigore_browser::get(rigore.url(&format!("/api/builds/{id}"))).await?.json::<Value>().await?;
    let trial = engine["operations"].as_array().context("operations")?.iter().find(|o| o["id"] == "trial");
    ensure!(trial.is_some_and(|trial| trial["status"] == "done"), "{trial:?}");
    assert_eq!(bench(&rigore, &id, "caps").await?["operation"]["done"], 0);
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_rod_is_climbed_to_its_stretch_and_too_much_friction_is_said() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 20").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/rod-tighten-1"))).await?;
    // The torque that was safe left it short: its own friction says what comes next.
    screen.read("[data-test='fastener']", "A").await?;
    key(&screen, "Gauge zeroed").await?;
    screen.read("[data-test='target']", "30.9").await?;
    screen.read("[data-test='bound']", "target stretch at the friction measured").await?;
    screen.click("select[name='instrument'] option[value='wrench-2']").await?;
    screen.line("30.9").await?;
    // Measured with the gauge that is made for it; micrometres for millimetres are asked about.
    screen.read("[data-test='target']", "0.150").await?;
    screen.see("select[name='instrument'] option[value='length-gauge']:first-child").await?;
    screen.line("151").await?;
    screen.read("[data-test='asked']", "Possible slip: micrometers. 0.151 mm would fit").await?;
    screen.keys("\u{e00c}").await?;
    screen.line("0.151").await?;
    // The other one is rubbed dry: a step at a time, with what is behind it.
    screen.read("[data-test='fastener']", "B").await?;
    screen.line("0.004").await?;
    screen.read("[data-test='verdict']", "Off zero").await?;
    for (torque, stretch, left) in
        [("23.2", "0.068", "0.000"), ("33.2", "0.099", "0.001"), ("43.2", "0.127", "")]
    {
        key(&screen, "Gauge zeroed").await?;
        screen.read("[data-test='target']", "N·m").await?;
        screen.line(torque).await?;
        screen.read("[data-test='target']", "mm").await?;
        screen.line(stretch).await?;
        // Short: loosened, measured, lubricated again.
        let again = "read the remaining stretch, then Low-friction assembly paste";
        screen.read("[data-test='again']", again).await?;
        screen.line(left).await?;
        screen.read("[data-test='climb-says']", "times typical for Low-friction assembly paste").await?;
    }
    screen.read("[data-test='friction']", "from 3 pulls of B").await?;
    key(&screen, "Gauge zeroed").await?;
    screen.read("[data-test='target']", "N·m").await?;
    screen.line("50.5").await?;
    screen.read("[data-test='target']", "mm").await?;
    screen.line("0.149").await?;
    screen.click("[data-test='sign']:enabled").await?;
    let work = bench(&rigore, &id, "rod-tighten-1").await?["work"].clone();
    let pulls = work["pulls"].as_array().context("pulls")?;
    let with = |tool: &str| pulls.iter().filter(|pull| pull["instrument"] == tool).count();
    assert_eq!((with("Angle wrench 2"), with("Bolt length gauge")), (5, 11));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bolt_that_has_grown_is_scrap_and_a_new_one_is_climbed_to_the_signature() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 21").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/rod-tighten-2"))).await?;
    screen.read("[data-test='issues']", "B: permanent stretch 0.009 mm, max 0.005 mm: scrap").await?;
    screen.read("[data-test='free']", "Free length 46.").await?;
    screen.click("[data-test='issues'] button").await?;
    screen.reason("It has grown").await?;
    // Of the new one nobody knows the free length yet, nor its friction.
    screen.read("[data-test='free']", "Free length not measured").await?;
    key(&screen, "Gauge zeroed").await?;
    for (torque, stretch) in [("23.2", "0.118"), ("29.5", "0.151")] {
        screen.read("[data-test='target']", "N·m").await?;
        if torque == "23.2" {
            screen.click("select[name='instrument'] option[value='wrench-2']").await?;
        }
        screen.line(torque).await?;
        screen.read("[data-test='target']", "mm").await?;
        screen.line(stretch).await?;
        if torque == "23.2" {
            screen.read("[data-test='again']", "read the remaining stretch").await?;
            screen.line("0.000").await?;
            key(&screen, "Gauge zeroed").await?;
        }
    }
    // With another bolt its bore is measured again, before anybody goes on.
    screen.read("[data-test='waits']", "Waits for Measure the big ends").await?;
    for (place, text) in [(0, "50.995"), (1, "50.996")] {
        let what = json!({"type": "measure", "operation": "rods-measure", "site": "rod-housing-2", "place": place,
            "text": text, "method": "typed", "instrument": "bore-gauge"});
        let command = json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "action": what});
        post(&rigore, &format!("/api/builds/{id}/commands"), &command).await?;
    }
    let sign = json!({"type": "sign", "operation": "rods-measure"});
    let command = json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "action": sign});
    post(&rigore, &format!("/api/builds/{id}/commands"), &command).await?;
    screen.click("[data-test='sign']:enabled").await?;
    // The old one stays in the record, and the place goes on with the new one.
    screen.go(&rigore.url("/parts/RB-21")).await?;
    screen.read("[data-test='piece-4']", "yes").await?;
    screen.read("[data-test='piece-4']", "a new one since Tarn 5 no. 21: It has grown").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_torque_is_converted_to_the_lubricant_that_is_used_and_the_sheet_says_so() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let build = engine(&scratch, &rigore).await?;
    // Run down, and the first of its halves asked for.
    advance(&rigore, &build, "trial", 1).await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.enter_as("lead").await?;
    screen.go(&rigore.url(&format!("/engines/{build}"))).await?;
    for does in ["only as specified", "torques are converted"] {
        screen.click("[data-test='change-policy']").await?;
        screen.reason("The owner asks for it").await?;
        screen.read("main", does).await?;
    }
    screen.go(&rigore.url(&format!("/engines/{build}/bench/trial"))).await?;
    screen.read("[data-test='film-used']", "Engine oil").await?;
    let before =
        bench(&rigore, &build, "trial").await?["step"]["target"]["shown"].as_f64().context("a torque")?;
    // Another one needs a reason; what was chosen stays meanwhile.
    screen.click("[data-test='film-other']").await?;
    screen.click("[data-test='film-assembly-paste']").await?;
    screen.click("[data-test='film-give']").await?;
    screen.read("[role='dialog'] [role='alert']", "using another lubricant").await?;
    screen.click("#film-reason").await?;
    screen.line("The oil is used up").await?;
    screen.read("[data-test='film-used']", "Low-friction assembly paste").await?;
    let after =
        bench(&rigore, &build, "trial").await?["step"]["target"]["shown"].as_f64().context("a torque")?;
    ensure!(after < 0.75 * before, "{after} of {before}");
    screen.read("[data-test='target']", &format!("{after:.1}")).await?;
    screen.line("y").await?;
    screen.read("body", "Low-friction assembly paste instead of Engine oil").await?;
    // Dry is not taken for wet.
    screen.click("[data-test='film-other']").await?;
    screen.click("[data-test='film-degreased']").await?;
    screen.click("#film-reason").await?;
    screen.line("Washed and forgotten").await?;
    screen.read("[data-test='film-warning']", "Engine oil is to go on the thread, and it is dry").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/sheet"))).await?;
    screen.read("body", "The oil is used up").await?;
    screen.close().await
}
