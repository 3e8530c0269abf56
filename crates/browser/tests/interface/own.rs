//! A shop of one's own: from an empty database to an engine's first tightened joint, by people who sign in.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use std::fs::Permissions;
use std::os::unix::fs::PermissionsExt;
use thirtyfour::Key;

fn enter() -> String {
    char::from(Key::Enter).to_string()
}

/// People, a bench, a wrench.
async fn peopled(screen: &Screen, rigore: &Rigore) -> Result<()> {
    screen.go(&rigore.url("/own")).await?;
    screen.click("[data-test='add-person']").await?;
    screen.fill("[name='member-name']", "Bench one").await?;
    screen.fill("[name='member-password']", "first password").await?;
    screen.click("[data-test='keep-person']").await?;
    screen.click("[data-test='person-row-bench-one']").await?;
    screen.fill("[name='member-pin']", "2580").await?;
    screen.click("[data-test='keep-person']").await?;
    screen.read("[data-test='people']", "PIN").await?;
    screen.fill("[name='bench']", "Tablet at the stand").await?;
    screen.click("[data-test='enrol']").await?;
    screen.read("[data-test='benches']", "this browser").await?;
    screen.click("[data-test='add-instrument']").await?;
    screen.choose("[name='instrument-kind']", "wrench").await?;
    screen.fill("[name='instrument-name']", "Dial wrench 1").await?;
    screen.fill("[name='instrument-low']", "50").await?;
    screen.fill("[name='instrument-high']", "2").await?;
    screen.click("[data-test='keep-instrument']").await?;
    screen.read("[role='dialog'] [role='alert']", "two rising figures").await?;
    screen.fill("[name='instrument-low']", "2").await?;
    screen.fill("[name='instrument-high']", "50").await?;
    screen.click("[data-test='keep-instrument']").await?;
    screen.read("[data-test='instruments']", "Dial wrench 1").await?;
    // One that may not be trusted any more stands on the shop's page.
    screen.click("[data-test='instruments'] tbody button").await?;
    let due = "const of = document.querySelector('[name=instrument-due]'); of.value = '2020-01-31'; of.dispatchEvent(new Event('input'))";
    screen.see("[name='instrument-due']").await?;
    screen.driver.execute(due, Vec::new()).await?;
    screen.click("[data-test='keep-instrument']").await?;
    screen.read("[data-test='instruments']", "calibration ran out").await?;
    screen.read("[data-test='doings']", "added the instrument Dial wrench 1").await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn from_the_package_an_empty_shop_becomes_ones_own_and_tightens_its_first_joint() -> Result<()> {
    // The database's own user has to be able to enter it.
    let others_enter = Permissions::from_mode(0o755);
    let folder = tempfile::Builder::new().prefix("rigore-packaged").permissions(others_enter).tempdir()?;
    let (rigore, code) = Rigore::packaged(folder.path()).await?;
    let browser = Browser::start().await?;
    let screen = browser.stranger(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    // The first run: what is wrong stands at its field, and what was typed stays through a reload.
    screen.fill("[name='code']", "1111-1111").await?;
    screen.fill("[name='shop']", "Quay Four").await?;
    screen.fill("[name='name']", "Åse").await?;
    screen.fill("[name='password']", "correct horse").await?;
    screen.click("[data-test='found']").await?;
    screen.read("[data-test='first-run'] [role='alert']", "not the code").await?;
    screen.go(&rigore.url("/")).await?;
    screen.fill("[name='code']", &code).await?;
    screen.fill("[name='password']", "correct horse").await?;
    screen.click("[data-test='found']").await?;
    screen.see("[data-test='at-work'][data-person='se']").await?;
    screen.see("[data-test='beginning-people'][data-done='false']").await?;

    peopled(&screen, &rigore).await?;

    // A plan from a shape, with the one figure that the first joint needs.
    screen.go(&rigore.url("/plans")).await?;
    screen.see("[data-test='example-tarn-5']").await?;
    screen.click("[data-test='new-plan']").await?;
    screen.fill("[name='name']", "Fell 4").await?;
    screen.click("[data-test='begin-plan']").await?;
    screen.read("h1", "Fell 4").await?;
    screen.fill("[name='procedure-water-pump']", "9 N·m, criss-cross").await?;
    screen.see("[data-test='joint-water-pump'] [data-test='canonical']").await?;
    screen.keys(&enter()).await?;
    screen.count("[data-test='joint-water-pump'] [data-test='tried']", 0).await?;
    screen.click("[data-test='keep-version']").await?;
    screen.fill("[name='why']", "The first version").await?;
    screen.click("[data-test='keep-it']").await?;
    screen.see("[data-test='change-plan']").await?;
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='beginning-plans'][data-done='true']").await?;
    screen.read("[data-test='due']", "Dial wrench 1: calibration ran out").await?;
    screen.click("[data-test='take-in']").await?;
    screen.fill("[role='dialog'] [name='name']", "Fell 4 no. 1").await?;
    screen.click("[role='dialog'] button[type='submit']").await?;
    screen.read("h1", "Fell 4 no. 1").await?;

    // A tap and a PIN, and somebody else is at work.
    screen.click("[data-test='at-work']").await?;
    screen.click("[data-test='person-bench-one']").await?;
    screen.keys("9999").await?;
    screen.keys(&enter()).await?;
    screen.read("[data-test='pin-pad'] [role='alert']", "not the PIN").await?;
    screen.keys("2580").await?;
    screen.keys(&enter()).await?;
    screen.see("[data-test='at-work'][data-person='bench-one']").await?;
    screen.count("[role='dialog']", 0).await?;
    let url = screen.driver.current_url().await?;
    let build = url.path_segments().and_then(Iterator::last).context("an engine")?.to_owned();
    screen.go(&rigore.url(&format!("/engines/{build}/bench/water-pump-tighten"))).await?;
    screen.read("main", "Dial wrench 1").await?;
    // It is out of calibration, and is used only where somebody chooses it.
    screen.see("[data-test='no-tool']").await?;
    screen.click("select[name='instrument'] option:not([disabled])").await?;
    screen.read("[data-test='tool-fault']", "out of calibration").await?;
    for pull in 1..=5 {
        screen.fill("input[inputmode='decimal']", "9 N·m").await?;
        screen.keys(&enter()).await?;
        if pull < 5 {
            screen.read("[data-test='progress']", &format!("{pull} of 5")).await?;
        }
    }
    screen.go(&rigore.url(&format!("/engines/{build}/sheet"))).await?;
    screen.read("main", "Bench one").await?;
    // Signed out, nobody sees anything; what was open comes back with the one who signs in.
    screen.click("[data-test='at-work']").await?;
    screen.reach("[data-test='sign-out']").await?;
    screen.click("[data-test='sign-out']").await?;
    screen.see("[data-test='sign-in']").await?;
    let stranger = browser.stranger(390, 844).await?;
    stranger.go(&rigore.url(&format!("/engines/{build}/sheet"))).await?;
    stranger.see("[data-test='sign-in'] [name='password']").await?;
    stranger.count("main table", 0).await?;
    stranger.fill("[name='name']", "åse").await?;
    stranger.fill("[name='password']", "correct horse").await?;
    stranger.keys(&enter()).await?;
    stranger.read("main", "Bench one").await?;
    ensure!(rigore.run("verify")?.contains("0 broken"), "the chain");
    stranger.click("[data-test='files'] summary").await?;
    stranger.see("[data-test='archive']").await?;
    elsewhere(&browser, &stranger, &build).await?;
    screen.close().await?;
    stranger.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_while_the_sign_in_runs_out_is_there_after_the_next() -> Result<()> {
    let scratch = Scratch::new().await?;
    let (rigore, code) = Rigore::shop(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.stranger(1280, 800).await?;
    found(&screen, &rigore, &code).await?;
    screen.go(&rigore.url("/plans")).await?;
    screen.click("[data-test='example-ostra-11']").await?;
    screen.read("h1", "Ostra 11").await?;
    screen.click("[data-test='view-text']").await?;
    screen.click(".cm-content").await?;
    screen.see("[data-test='draft-state'][data-state='saved']").await?;
    let store = rigore_store::Store::connect(&scratch.url, 2).await?;
    store.age_sessions(time::Duration::hours(30)).await?;
    screen.keys("# typed while nobody was signed in\n").await?;
    // The page stays behind the sign-in, with what was typed on it.
    screen.see("[role='dialog'] [data-test='sign-in'] [name='password']").await?;
    screen.fill("[role='dialog'] [name='name']", "Lead of Slip Two").await?;
    screen.fill("[role='dialog'] [name='password']", "another horse").await?;
    screen.keys(&enter()).await?;
    screen.count("[role='dialog']", 0).await?;
    screen.see("[data-test='draft-state'][data-state='saved']").await?;
    screen.read(".cm-content", "# typed while nobody was signed in").await?;
    screen.go(screen.driver.current_url().await?.as_ref()).await?;
    screen.read(".cm-content", "# typed while nobody was signed in").await?;
    screen.close().await
}

/// Founds a shop.
async fn found(screen: &Screen, rigore: &Rigore, code: &str) -> Result<()> {
    screen.go(&rigore.url("/")).await?;
    let all =
        [("code", code), ("shop", "Slip Two"), ("name", "Lead of Slip Two"), ("password", "another horse")];
    for (field, text) in all {
        screen.fill(&format!("[name='{field}']"), text).await?;
    }
    screen.click("[data-test='found']").await?;
    screen.see("[data-test='at-work']").await?;
    Ok(())
}

/// The engine leaves as one file and comes into another empty shop, where it is the same.
async fn elsewhere(browser: &Browser, here: &Screen, build: &str) -> Result<()> {
    let script = "const done = arguments[1];
        fetch(`/api/builds/${arguments[0]}/archive`).then((answer) => answer.arrayBuffer()).then((bytes) => done([...new Uint8Array(bytes)]));";
    let bytes = here.driver.execute_async(script, vec![build.into()]).await?;
    let bytes: Vec<u8> = serde_json::from_value(bytes.json().clone())?;
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("engine.zip");
    std::fs::write(&file, &bytes)?;
    let scratch = Scratch::new().await?;
    let (rigore, code) = Rigore::shop(&scratch.url).await?;
    let screen = browser.stranger(1280, 800).await?;
    found(&screen, &rigore, &code).await?;
    screen.go(&rigore.url("/own")).await?;
    // Half of it is not taken in, and says so.
    let half = folder.path().join("half.zip");
    std::fs::write(&half, &bytes[..bytes.len() / 2])?;
    screen.see("[name='archive-file']").await?.send_keys(half.to_string_lossy()).await?;
    screen.read("main [role='alert']", "only a part of one").await?;
    screen.see("[name='archive-file']").await?.send_keys(file.to_string_lossy()).await?;
    screen.read("[data-test='came-in']", "Fell 4 no. 1 imported").await?;
    screen.click("[data-test='came-in'] a").await?;
    screen.read("h1", "Fell 4 no. 1").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/sheet"))).await?;
    screen.read("main", "Bench one").await?;
    ensure!(rigore.run("verify")?.contains("0 broken"), "the chain");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_lead_proves_to_be_there_and_who_was_given_a_password_chooses_their_own() -> Result<()> {
    let scratch = Scratch::new().await?;
    let (rigore, code) = Rigore::shop(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.stranger(1280, 800).await?;
    found(&screen, &rigore, &code).await?;
    let store = rigore_store::Store::connect(&scratch.url, 2).await?;
    screen.go(&rigore.url("/own")).await?;
    screen.see("[data-test='add-person']").await?;
    store.age_sessions(time::Duration::minutes(3)).await?;
    screen.click("[data-test='add-person']").await?;
    screen.fill("[name='member-name']", "Bench one").await?;
    screen.fill("[name='member-password']", "first password").await?;
    screen.click("[data-test='keep-person']").await?;
    // A wrong secret is said, and what was typed in the form behind it stays.
    screen.fill("[name='secret']", "guess").await?;
    crate::accessible::passes_axe(&screen, "confirming").await?;
    screen.click("[data-test='confirm']").await?;
    screen.read("[role='dialog'] [role='alert']", "neither the PIN nor the password").await?;
    screen.fill("[name='secret']", "another horse").await?;
    screen.click("[data-test='confirm']").await?;
    screen.see("[data-test='person-row-bench-one']").await?;
    screen.read("[data-test='people']", "to choose their own").await?;
    let phone = browser.stranger(390, 844).await?;
    phone.go(&rigore.url("/")).await?;
    phone.fill("[name='name']", "Bench one").await?;
    phone.fill("[name='password']", "first password").await?;
    phone.keys(&enter()).await?;
    phone.read("[data-test='set-by-others']", "Lead of Slip Two has set your password").await?;
    phone.click("[data-test='choose-own']").await?;
    phone.fill("[name='current']", "first password").await?;
    phone.fill("[name='new-password']", "my own words").await?;
    phone.click("[data-test='keep-secrets']").await?;
    phone.count("[data-test='set-by-others']", 0).await?;
    phone.count("[role='dialog']", 0).await?;
    phone.close().await?;
    screen.close().await
}
