//! Everything that a plan can say, said by forms: no text of a plan is typed here.

use crate::accessible::passes_axe;
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use serde_json::{Value, json};
use thirtyfour::Key;
use uuid::Uuid;

/// A screen at a new draft with the usual shape of an engine.
async fn draft(rigore: &Rigore, screen: &Screen) -> Result<Uuid> {
    let id = Uuid::now_v7();
    screen.go(&rigore.url("/plans")).await?;
    screen.enter_as("lead").await?;
    let begin = "const done = arguments[1]; const engine = { name: 'Fell 4', layout: 'inline', cylinders: 4 }; \
        fetch('/api/drafts/shape', { method: 'POST', headers: { 'content-type': 'application/json' }, \
        body: JSON.stringify({ id: arguments[0], engine }) }).then((answer) => done(answer.status))";
    let status = screen.driver.execute_async(begin, vec![id.to_string().into()]).await?;
    ensure!(status.json() == &json!(200), "{:?}", status.json());
    screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
    screen.see("[data-test='line-sign-off']").await?;
    Ok(id)
}

async fn read(rigore: &Rigore, id: Uuid) -> Result<Value> {
    Ok(rigore_browser::get(rigore.url(&format!("/api/drafts/{id}"))).await?.json().await?)
}

/// Opens a form by what opens it.
async fn open(screen: &Screen, css: &str) -> Result<()> {
    screen.reach(css).await?;
    screen.click(css).await?;
    screen.see("[role='dialog'] [data-test='save-table']").await?;
    Ok(())
}

async fn save(screen: &Screen) -> Result<()> {
    screen.click("[data-test='save-table']").await?;
    if let Err(open) = screen.count("[role='dialog']", 0).await {
        let wrong = "return [...document.querySelectorAll('[role=dialog] [role=alert]')].map((of) => of.textContent).join('; ')";
        let said = screen.driver.execute(wrong, Vec::new()).await?;
        return Err(open.context(said.json().to_string()));
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_joint_is_sealed_listed_and_reached_by_a_crowfoot_without_any_text() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = draft(&rigore, &screen).await?;
    // An adapter; what is wrong with it is said at its field, and what was entered stays.
    open(&screen, "[data-test='add-adapter']").await?;
    screen.fill("[name='name']", "Crowfoot 13").await?;
    screen.fill("[name='length']", "50").await?;
    screen.fill("[name='angle']", "200").await?;
    screen.fill("[name='wrench']", "400").await?;
    screen.click("[data-test='save-table']").await?;
    screen.read("[data-path='angle']", "180").await?;
    screen.fill("[name='angle']", "0").await?;
    save(&screen).await?;
    screen.see("[data-test='table-adapter-crowfoot-13']").await?;
    // The order of a group is made by tapping; one of its fasteners is reached with the adapter.
    open(&screen, "[data-test='edit-damper-bolts']").await?;
    screen.choose("[name='pattern']", "listed").await?;
    screen.reach("[data-test='order']").await?;
    let tap = "for (const of of [...document.querySelectorAll('[data-test^=order-]')].reverse()) of.dispatchEvent(new MouseEvent('click', { bubbles: true }))";
    screen.driver.execute(tap, Vec::new()).await?;
    screen.choose("[name='position[0].adapter']", "crowfoot-13").await?;
    save(&screen).await?;
    // Its line is written out as stages, and a bead with its clock comes before them.
    screen.reach("[data-test='write-out-pan']").await?;
    screen.click("[data-test='write-out-pan']").await?;
    open(&screen, "[data-test='add-stage-pan']").await?;
    screen.choose("[name='stage-before']", "0").await?;
    screen.choose("[name='one-of']", "seal").await?;
    screen.fill("[name='name']", "Bead").await?;
    screen.fill("[name='seal']", "A bead of 3 mm inside of the bolts").await?;
    screen.fill("[name='within']", "9 min").await?;
    screen.click("[data-test='offer-ready']").await?;
    screen.fill("[name='ready']", "Faces clean and dry\nBolts counted").await?;
    screen.click("[data-test='offer-cure']").await?;
    screen.fill("[name='cure']", "12 h").await?;
    save(&screen).await?;
    // What stands first may go behind another one, and comes back.
    open(&screen, "[data-test='edit-pan']").await?;
    screen.click("[aria-label^='Move Bead'][aria-label$=' down']").await?;
    screen.click("[aria-label^='Move Bead'][aria-label$=' up']").await?;
    save(&screen).await?;
    let now = read(&rigore, id).await?;
    let plan: toml::Table = now["source"].as_str().context("a text")?.parse()?;
    let joint = |key: &str| {
        let joints = plan["joint"].as_array().context("joints")?;
        joints.iter().find(|of| of["id"].as_str() == Some(key)).context("a joint")
    };
    let (pan, damper) = (joint("pan")?, joint("damper")?);
    let bead = &pan["stage"][0];
    ensure!(bead["within"].as_str() == Some("9 min") && bead["cure"].as_str() == Some("12 h"), "{bead}");
    ensure!(bead["ready"].as_array().map(Vec::len) == Some(2), "{bead}");
    ensure!(pan["stage"][1]["torque"].as_str() == Some("?"), "{pan}");
    let group = &damper["group"][0];
    ensure!(group["position"][0]["adapter"].as_str() == Some("crowfoot-13"), "{group}");
    let order = group["order"].as_array().context("an order")?;
    ensure!(order.len() == group["position"].as_array().map_or(0, Vec::len), "{group}");
    ensure!(now["usable"] == true, "{}", now["faults"]);
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_build_sequence_is_changed_where_it_is_read_and_every_change_is_undone() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 900).await?;
    let id = draft(&rigore, &screen).await?;
    let first = read(&rigore, id).await?;
    let place = |draft: &Value, step: &str| -> Result<u64> {
        let line = draft["page"]["line"].as_array().context("a line")?;
        let row = line.iter().find(|row| row["id"] == step).context("a step")?;
        row["place"].as_u64().context("a place")
    };
    // By keys: before the step above.
    screen.reach("[data-test='step-timing-measure']").await?;
    let focus = "document.querySelector(\"[data-test='step-timing-measure']\").focus()";
    screen.driver.execute(focus, Vec::new()).await?;
    screen.keys(&format!("{}{}", char::from(Key::Alt), char::from(Key::Up))).await?;
    screen.see("[data-test='undo']:not([disabled])").await?;
    let moved = read(&rigore, id).await?;
    ensure!(place(&moved, "timing-measure")? < place(&moved, "cam-drive-tighten")?);
    ensure!(place(&first, "timing-measure")? > place(&first, "cam-drive-tighten")?);
    // By its form: in parallel with another one.
    open(&screen, "[data-test='step-water-pump-tighten']").await?;
    screen.click("[data-test='step-move']").await?;
    screen.choose("[name='move-where']", "beside").await?;
    let path = |draft: &Value, step: &str| -> Result<String> {
        let line = draft["page"]["line"].as_array().context("a line")?;
        let row = line.iter().find(|row| row["id"] == step).context("a step")?;
        Ok(row["path"].as_str().context("a path")?.to_owned())
    };
    screen.choose("[name='move-target']", &path(&moved, "head-fit")?).await?;
    screen.click("[data-test='move-it']").await?;
    screen.count("[role='dialog']", 0).await?;
    let beside = read(&rigore, id).await?;
    ensure!(place(&beside, "water-pump-tighten")? == place(&beside, "head-fit")?);
    // A joint with a procedure is tightened in two steps, with a measurement between them.
    screen.fill("[name='procedure-pan']", "4 N·m snug, then 9 N·m").await?;
    screen.keys(&char::from(Key::Enter).to_string()).await?;
    screen.see("[data-test='joint-pan'] [data-test='stage-1']").await?;
    open(&screen, "[data-test='step-pan-tighten']").await?;
    screen.click("[data-test='step-split']").await?;
    screen.fill("[name='between-what']", "Pan to bell-housing face").await?;
    screen.fill("[name='between-limits']", "at most 0.1 mm").await?;
    screen.click("[data-test='split-it']").await?;
    screen.count("[role='dialog']", 0).await?;
    screen.see("[data-test='line-measure-pan-to-bell-housing-face']").await?;
    let split = read(&rigore, id).await?;
    let measured = place(&split, "measure-pan-to-bell-housing-face")?;
    ensure!(place(&split, "pan-tighten")? < measured && place(&split, "close-the-pan-torque")? > measured);
    ensure!(split["usable"] == true, "{}", split["faults"]);
    // Everything comes back, step by step, and can be done again.
    for _ in 0..4 {
        let before = read(&rigore, id).await?["revision"].as_u64().context("a revision")?;
        screen.reach("[data-test='undo']").await?;
        screen.click("[data-test='undo']").await?;
        for _ in 0..100 {
            if read(&rigore, id).await?["revision"].as_u64() > Some(before) {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
    }
    ensure!(read(&rigore, id).await?["source"] == first["source"]);
    screen.see("[data-test='undo'][disabled]").await?;
    screen.click("[data-test='redo']").await?;
    screen.see("[data-test='undo']:not([disabled])").await?;
    ensure!(read(&rigore, id).await?["source"] == moved["source"]);
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn rows_of_a_spreadsheet_become_fasteners_and_an_error_leads_to_its_form() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 900).await?;
    let id = draft(&rigore, &screen).await?;
    screen.click("[data-test='as-table']").await?;
    screen.see("[name='fastener-new']").await?;
    let paste = "const field = document.querySelector('[name=fastener-new]'); const data = new DataTransfer(); \
        data.setData('text/plain', 'Pump bolt\\tM8\\t8.8\\t\\t\\tEngine oil\\tEngine oil\\tpage 4\\nGear nut\\tM99z\\t10.9'); \
        field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))";
    screen.driver.execute(paste, Vec::new()).await?;
    screen.read("[data-test='show-faults']", "1 error").await?;
    screen.read("[data-test='fastener-table']", "was not understood").await?;
    screen.read("[data-test='section-errors']", "1 error").await?;
    let now = read(&rigore, id).await?;
    let plan: toml::Table = now["source"].as_str().context("a text")?.parse()?;
    let fasteners = plan["fastener"].as_array().context("fasteners")?;
    let pump = fasteners.iter().find(|of| of["id"].as_str() == Some("pump-bolt")).context("the bolt")?;
    ensure!(pump["source"].as_str() == Some("page 4") && pump["strength"].as_str() == Some("8.8"), "{pump}");
    ensure!(pump["thread_lubricant"].as_str() == Some("engine-oil"), "{pump}");
    // The error is told in words, and a tap on it opens the form at its field.
    screen.click("[data-test='show-faults']").await?;
    screen.read("[data-test='faults']", "Gear nut, Thread").await?;
    screen.reach("[data-test='faults'] button").await?;
    screen.click("[data-test='faults'] button").await?;
    screen.read("[data-test='wrong-thread']", "was not understood").await?;
    screen.fill("[role='dialog'] [name='thread']", "M9x1").await?;
    screen.click("[data-test='keep-fastener']").await?;
    screen.count("[data-test='section-errors']", 0).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn forms_that_are_saved_as_they_are_leave_the_text_as_it_stands() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 900).await?;
    screen.go(&rigore.url("/plans")).await?;
    screen.enter_as("lead").await?;
    // Tarn 5 has stages of nearly every way, sealant, stretch, series and repeats.
    let begin = "const done = arguments[1]; fetch('/api/plans').then((answer) => answer.json()).then(async (plans) => { \
        const base = plans.find((of) => of.id === 'tarn-5').hash; \
        const answer = await fetch('/api/drafts', { method: 'POST', headers: { 'content-type': 'application/json' }, \
        body: JSON.stringify({ id: arguments[0], base }) }); done(answer.status) })";
    let id = Uuid::now_v7();
    let status = screen.driver.execute_async(begin, vec![id.to_string().into()]).await?;
    ensure!(status.json() == &json!(200), "{:?}", status.json());
    screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
    screen.see("[data-test='tables-drawing']").await?;
    let first = read(&rigore, id).await?;
    let opening =
        "[data-test^='edit-'], [data-test^='clearance-'], [data-test^='table-'], [data-test^='step-']";
    let count = "return document.querySelectorAll(arguments[0]).length";
    let count =
        screen.driver.execute(count, vec![opening.into()]).await?.json().as_u64().context("a count")?;
    ensure!(count > 80, "{count} forms");
    let mut seen = std::collections::BTreeSet::new();
    // One of three: neighbours are mostly of one kind.
    for at in (0..count).step_by(3) {
        let click = "const of = document.querySelectorAll(arguments[0])[arguments[1]]; of.click(); return of.dataset.test";
        let name = screen.driver.execute(click, vec![opening.into(), at.into()]).await?;
        let name = name.json().as_str().unwrap_or_default().to_owned();
        screen.see("[role='dialog'] [data-test='save-table']:not([disabled])").await.context(name.clone())?;
        // Each kind of form once in the eyes of a screen reader.
        let kind = name.split('-').take(2).collect::<Vec<_>>().join("-");
        if seen.len() < 12 && seen.insert(kind) {
            passes_axe(&screen, &name).await?;
        }
        save(&screen).await.context(name)?;
    }
    let now = read(&rigore, id).await?;
    ensure!(now["source"] == first["source"], "{}", changed(&first, &now));
    ensure!(now["can_undo"] == false, "nothing was changed");
    screen.close().await
}

/// The lines of a text that are others now.
fn changed(first: &Value, now: &Value) -> String {
    let lines = |of: &Value| -> Vec<String> {
        of["source"].as_str().unwrap_or_default().lines().map(str::to_owned).collect()
    };
    let (first, now) = (lines(first), lines(now));
    let gone = first.iter().filter(|line| !now.contains(line)).map(|line| format!("- {line}"));
    let new = now.iter().filter(|line| !first.contains(line)).map(|line| format!("+ {line}"));
    gone.chain(new).take(40).collect::<Vec<_>>().join("\n")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_form_in_inches_and_pounds_says_its_units_and_two_forms_of_one_table_are_not_put_over() -> Result<()>
{
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    let id = draft(&rigore, &screen).await?;
    let units = "localStorage.setItem('rigore.torque-unit', '{\"lead\":\"lbf·ft\"}'); localStorage.setItem('rigore.length-unit', 'in')";
    screen.driver.execute(units, Vec::new()).await?;
    screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
    screen.see("[data-test='line-sign-off']").await?;
    open(&screen, "[data-test='edit-damper-bolts']").await?;
    // Places are shown in inches, and the heading says so.
    screen.read("[data-test='list-position']", "Place x, y, in").await?;
    screen.fill("[name='position[0].at']", "1, 2").await?;
    screen.keys(&char::from(Key::Tab).to_string()).await?;
    save(&screen).await?;
    // A range with its unit at the end is that of both figures, whatever the screen shows in.
    screen.reach("[data-test='write-out-damper']").await?;
    screen.click("[data-test='write-out-damper']").await?;
    open(&screen, "[data-test='joint-damper'] [data-test='edit-stage-0']").await?;
    screen.fill("[name='torque']", "100").await?;
    screen.click("[data-test='offer-range']").await?;
    screen.fill("[name='range']", "95 to 145 N·m").await?;
    screen.click("[data-test='save-table']").await?;
    screen.read("[data-path='tolerance']", "one of the two is enough").await?;
    screen.fill("[name='tolerance']", " ").await?;
    save(&screen).await?;
    let now = read(&rigore, id).await?;
    let plan: toml::Table = now["source"].as_str().context("a text")?.parse()?;
    let joints = plan["joint"].as_array().context("joints")?;
    let damper = joints.iter().find(|of| of["id"].as_str() == Some("damper")).context("a joint")?;
    let stage = &damper["stage"][0];
    ensure!(stage["torque"].as_str() == Some("100 lbf·ft"), "{stage}");
    ensure!(stage["range"].to_string() == "[\"95 N·m\", \"145 N·m\"]", "{stage}");
    let place: Vec<f64> = damper["group"][0]["position"][0]["at"]
        .as_array()
        .into_iter()
        .flatten()
        .filter_map(toml::Value::as_float)
        .collect();
    ensure!(place == [25.4, 50.8], "{place:?}");
    // Somebody else changes the same field while the form is open: nothing is put over.
    open(&screen, "[data-test='joint-damper'] [data-test='edit-stage-0']").await?;
    let path =
        format!("joint[{}].stage[0].name", joints.iter().position(|of| of == damper).context("a place")?);
    let theirs =
        json!({ "seen": now["revision"], "edits": [{ "type": "set", "path": path, "value": "Theirs" }] });
    let change = "const done = arguments[2]; fetch(`/api/drafts/${arguments[0]}/edits`, { method: 'POST', \
        headers: { 'content-type': 'application/json' }, body: arguments[1] }).then((answer) => done(answer.status))";
    let status =
        screen.driver.execute_async(change, vec![id.to_string().into(), theirs.to_string().into()]).await?;
    ensure!(status.json() == &json!(200), "{:?}", status.json());
    // The page looks for itself, every five seconds.
    tokio::time::sleep(std::time::Duration::from_secs(6)).await;
    screen.fill("[role='dialog'] [name='name']", "Mine").await?;
    screen.click("[data-test='save-table']").await?;
    screen.read("[role='dialog']", "somebody else changed this meanwhile").await?;
    let now = read(&rigore, id).await?;
    ensure!(now["source"].as_str().is_some_and(|text| text.contains("\"Theirs\"")), "theirs stays");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn assumptions_are_confirmed_and_pages_of_the_manual_stand_beside_their_joint() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    let id = draft(&rigore, &screen).await?;
    let assumed = |draft: &Value| draft["page"]["assumptions"].as_array().map_or(0, Vec::len);
    let all = assumed(&read(&rigore, id).await?);
    ensure!(all > 30, "{all} assumptions");
    // All of one fastener by its row, one figure by its mark, the rest stays.
    screen.reach("[data-test='show-assumptions']").await?;
    screen.click("[data-test='show-assumptions']").await?;
    screen.click("[data-test='confirm-fastener[0]']").await?;
    screen.count("[data-test='confirm-fastener[0]']", 0).await?;
    let mark = "[data-test='fasteners'] [aria-label='Assumed: confirm Rod bolt: Thread']";
    screen.reach(mark).await?;
    screen.click(mark).await?;
    screen.count(mark, 0).await?;
    let left = assumed(&read(&rigore, id).await?);
    ensure!(left == all - 4, "{left} of {all}");
    passes_axe(&screen, "a draft with assumptions").await?;
    // A form says which figures were assumed; one that is changed is assumed no more.
    open(&screen, "[data-test='edit-pan-bolts']").await?;
    screen.read("[role='dialog']", "(assumed)").await?;
    screen.choose("[name='pattern']", "criss-cross").await?;
    save(&screen).await?;
    let now = read(&rigore, id).await?;
    let pan = |of: &Value| {
        of["page"]["assumptions"]
            .as_array()
            .into_iter()
            .flatten()
            .any(|row| row["of"].to_string().contains("Pan") && row["key"] == "pattern")
    };
    ensure!(!pan(&now), "{}", now["page"]["assumptions"]);
    // A page of the manual beside the joint it is about, kept when its name changes, gone when it is removed.
    let picture =
        std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../plans/pier-nine.png").canonicalize()?;
    screen.reach("[data-test='manual-pan'] [name='manual-file']").await?;
    let field = screen.see("[data-test='manual-pan'] [name='manual-file']").await?;
    field.send_keys(picture.to_string_lossy()).await?;
    screen.see("[data-test='manual-pan'] img").await?;
    let shown = "const of = document.querySelector('[data-test=manual-pan] img'); return of.complete && of.naturalWidth > 0";
    for _ in 0..100 {
        if screen.driver.execute(shown, Vec::new()).await?.json() == &json!(true) {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    ensure!(screen.driver.execute(shown, Vec::new()).await?.json() == &json!(true), "it is drawn");
    screen.click("[data-test='manual-pan'] [data-test='edit-manual']").await?;
    screen.fill("[role='dialog'] [name='name']", "Manual, pan").await?;
    screen.fill("[role='dialog'] [name='page']", "42").await?;
    save(&screen).await?;
    screen.read("[data-test='manual-page-pier-nine']", "Manual, pan, page 42").await?;
    screen.click("[data-test='manual-pan'] [data-test='edit-manual']").await?;
    screen.click("[data-test='remove-table']").await?;
    screen.count("[data-test='manual-page-pier-nine']", 0).await?;
    ensure!(read(&rigore, id).await?["usable"] == true, "it can be published");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_draft_is_tried_at_a_bench_that_records_nothing() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    draft(&rigore, &screen).await?;
    screen.fill("[name='procedure-damper']", "60 N·m, then 130 N·m").await?;
    screen.keys(&char::from(Key::Enter).to_string()).await?;
    screen.see("[data-test='joint-damper'] [data-test='stage-1']").await?;
    // From its first step: parts are logged in at a bench like any other.
    screen.click("[data-test='dry-run']").await?;
    screen.read("[data-test='dry-run']", "nothing is recorded").await?;
    screen.read("h1", "Dry run: Fell 4").await?;
    screen.click("[data-test='end-dry-run']").await?;
    // From a step in the middle: what comes before it is skipped, and the simulated wrench pulls.
    open(&screen, "[data-test='step-damper-tighten']").await?;
    screen.click("[data-test='dry-run-from']").await?;
    screen.read("h1", "Tighten the damper").await?;
    screen.read("[data-test='dry-run']", "nothing is recorded").await?;
    for done in 1..=2 {
        screen.click("[data-test='simulate']").await?;
        screen.read("[data-test='progress']", &format!("{done} of 2")).await?;
    }
    passes_axe(&screen, "a dry run at the bench").await?;
    screen.click("[data-test='end-dry-run']").await?;
    screen.read("h1", "Fell 4").await?;
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='take-in']").await?;
    ensure!(rigore.engine("Dry run: Fell 4").await.is_err(), "no engine was begun");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_box_drawn_over_fasteners_makes_a_group_of_them() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 900).await?;
    let id = draft(&rigore, &screen).await?;
    // From above the first bolt of the pan to below its fourth, all in the upper row.
    screen.reach("[data-test='joint-pan'] [data-test='drawing']").await?;
    let draw = "const at = (id, by) => { const box = document.querySelector(`[data-test='joint-pan'] [data-test='bolt-${id}']`).getBoundingClientRect();         return { x: box.x + box.width / 2 + by, y: box.y + box.height / 2 + by } };         const svg = document.querySelector(\"[data-test='joint-pan'] [data-test='drawing']\");         const send = (type, point) => svg.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, clientX: point.x, clientY: point.y }));         svg.setPointerCapture = () => undefined;         send('pointerdown', at('1', -16)); send('pointermove', at('4', 16)); send('pointerup', at('4', 16))";
    screen.driver.execute(draw, Vec::new()).await?;
    // The choice is made and at once empty again: it is no field.
    screen.see("[data-test='joint-pan'] [name='to-group'] [value='+']").await?;
    let choose = "const of = document.querySelector(\"[data-test='joint-pan'] [name='to-group']\"); \
        of.value = '+'; of.dispatchEvent(new Event('change', { bubbles: true }))";
    screen.driver.execute(choose, Vec::new()).await?;
    // It is named at once.
    screen.fill("[role='dialog'] [name='name']", "front").await?;
    save(&screen).await?;
    let plan: toml::Table = read(&rigore, id).await?["source"].as_str().context("a text")?.parse()?;
    let pan = plan["joint"].as_array().into_iter().flatten().find(|of| of["id"].as_str() == Some("pan"));
    let groups = pan.context("a pan")?["group"].as_array().context("groups")?;
    let names = |group: &toml::Value| -> Vec<String> {
        let places = group["position"].as_array().into_iter().flatten();
        places.filter_map(|place| place["id"].as_str().map(str::to_owned)).collect()
    };
    ensure!(groups.len() == 2 && groups[1]["name"].as_str() == Some("front"), "{groups:?}");
    ensure!(names(&groups[1]) == ["1", "2", "3", "4"], "{:?}", names(&groups[1]));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_checklist_goes_by_the_library_into_the_build_sequence() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    let id = draft(&rigore, &screen).await?;
    open(&screen, "[data-test='step-crank-in']").await?;
    screen.click("[role='dialog'] [data-test='keep-piece']").await?;
    screen.read("[role='dialog'] [data-test='keep-piece']", "Saved in the library").await?;
    screen.keys(&char::from(Key::Escape).to_string()).await?;
    screen.count("[role='dialog']", 0).await?;
    screen.reach("[data-test='keep-piece'][aria-label='Save to library: Clearances']").await?;
    screen.click("[data-test='keep-piece'][aria-label='Save to library: Clearances']").await?;
    screen
        .read("[data-test='keep-piece'][aria-label='Save to library: Clearances']", "Saved in the library")
        .await?;
    // A clearance by itself, from its form.
    open(&screen, "[data-test='clearance-main-oil']").await?;
    screen.click("[role='dialog'] [data-test='keep-piece']").await?;
    screen.read("[role='dialog'] [data-test='keep-piece']", "Saved in the library").await?;
    screen.keys(&char::from(Key::Escape).to_string()).await?;
    screen.count("[role='dialog']", 0).await?;
    // Found by a word of an item, and by its kind.
    screen.reach("[data-test='open-library']").await?;
    screen.click("[data-test='open-library']").await?;
    screen.count("[data-test='library'] li", 3).await?;
    screen.choose("[name='library-kind']", "clearance").await?;
    screen.count("[data-test='library'] li", 1).await?;
    screen.choose("[name='library-kind']", "").await?;
    screen.fill("[role='dialog'] [type='search']", "shells tangs").await?;
    screen.count("[data-test='library'] li", 1).await?;
    passes_axe(&screen, "the library").await?;
    screen.click("[aria-label='Add Fit the crankshaft']").await?;
    screen.see("[data-test='step-fit-the-crankshaft']").await?;
    let now = read(&rigore, id).await?;
    ensure!(now["usable"] == true, "{}", now["faults"]);
    screen.close().await
}
