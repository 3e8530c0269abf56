//! Every route and dialog against WCAG 2.2 AA and good practice, as axe-core judges it, in both themes; and at 320 px.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use serde_json::Value;
use std::time::Duration;
use thirtyfour::Key;

/// Routes of the demonstration: engine, place under it, what has to be there. `PLAN` is the Tarn 5's.
pub const ROUTES: &[(&str, &str, &str)] = &[
    ("", "/", "[data-test='Tarn 5 no. 12']"),
    ("", "/day", "[data-test='promised'] li"),
    ("", "/parts", "main table, main li"),
    ("", "/parts/RB-21", "[data-test='piece-4']"),
    ("", "/plans", "[data-test='plan-skerry-8']"),
    ("", "/plans/new", "[data-test='shape'] [data-test='drawing']"),
    ("", "/plans/PLAN", "[data-test='joint-main-caps']"),
    ("", "/plans/PLAN/joints/main-caps", "[data-test='joint-loads']"),
    ("", "/tools", "main a[href='/practice']"),
    ("", "/friction", "[data-test='measured']"),
    ("", "/friction/tests", "main table"),
    ("", "/clamp-load", "[data-test='within-stretch']"),
    ("", "/calculate/part-resilience", "[data-test='sensitivity']"),
    ("", "/practice", "main h1"),
    ("", "/own", "[data-test='people'] li"),
    ("", "/own/instruments/rig-wrench", "[data-test='used'] li"),
    ("", "/help", "main section"),
    ("", "/about", "[data-test='version']"),
    ("", "/nowhere", "main h1"),
    ("Tarn 5 no. 23", "", "[data-test='sign-off']"),
    ("Tarn 5 no. 23", "/work-order", "[data-test='work-order']"),
    ("Tarn 5 no. 23", "/parts-list", "article table"),
    ("Tarn 5 no. 23", "/labels", "[data-test='labels'] img"),
    ("Tarn 5 no. 9", "/sheet", "[data-test='row-3L']"),
    ("Tarn 5 no. 14", "/bench/take-in", "input[name='reference']"),
    ("Tarn 5 no. 14", "/bench/hardware-out", "input[name='count']"),
    ("Tarn 5 no. 12", "/bench/main-caps-prepare", "[data-test='confirm']"),
    ("Tarn 5 no. 15", "/bench/mains-measure", "[data-test='main-oil-6']"),
    ("Tarn 5 no. 9", "/bench/main-caps-turn", "[data-test='turns']"),
    ("Tarn 5 no. 11", "/bench/main-caps-tighten", "[data-test='clock']"),
    ("Tarn 5 no. 20", "/bench/rod-tighten-1", "[data-test='climb']"),
    ("Tarn 5 no. 23", "/bench/pan-seal", "[data-test='clock']"),
    ("Tarn 5 no. 9", "/bench/sign-off", "main h1"),
];

/// Dialogs: the route that they are opened from, and what opens them.
const DIALOGS: &[(&str, &str, &str)] = &[
    ("", "/", "[data-test='find']"),
    ("", "/", "[data-test='open-help']"),
    ("", "/", "[data-test='take-in']"),
    ("", "/", "[data-test='at-work']"),
    ("", "/own", "[data-test='add-person']"),
    ("", "/own", "[data-test='add-instrument']"),
    ("", "/friction", "[data-test='add-lubricant']"),
    ("Tarn 5 no. 9", "/sheet", "[data-test='share']"),
    ("Tarn 5 no. 9", "/sheet", "[data-test='row-3L'] button"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='found']"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='leave-out']"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='take-apart']"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[aria-label='? Keys at the bench']"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='pulls'] td button"),
    ("Tarn 5 no. 11", "/bench/main-caps-tighten", "[data-test='film-other']"),
    ("Tarn 5 no. 15", "/bench/mains-measure", "[data-test='from-file']"),
    ("Tarn 5 no. 15", "/bench/mains-measure", "[data-test='readings'] button"),
    ("Tarn 5 no. 15", "/bench/mains-measure", "[data-test='issues'] button"),
    ("Tarn 5 no. 12", "/bench/main-caps-prepare", ".bench-list [aria-label^='Void']"),
    ("Tarn 5 no. 23", "", "[data-test='await-order']"),
    ("Tarn 5 no. 23", "", "[data-test='promise']"),
    ("Tarn 5 no. 23", "", "[data-test='change-policy']"),
    ("Tarn 5 no. 23", "", "[data-test='change-decision-rule']"),
    ("", "/own", "[data-test='paste-instruments']"),
    ("", "/own", "[data-test='instrument-rig-wrench']"),
    ("", "/own", "[data-test^='person-row-']"),
    ("", "/parts/RB-21", "[data-test='remark']"),
    ("", "/friction", "[data-test^='change-']"),
    ("", "/friction/tests", "[data-test='friction-test'] .quiet-key"),
    ("Tarn 5 no. 24", "", "[data-test='decide']"),
    ("", "/plans", "[data-test='paste']"),
    ("", "DRAFT", "[data-test='keep-version']"),
    ("", "DRAFT", "[data-test='add-fastener']"),
    ("", "DRAFT", "[data-test='open-library']"),
    ("", "DRAFT", "[data-test^='fastener-']"),
    ("", "DRAFT", "[data-test='add-joint']"),
    ("", "DRAFT", "[data-test='running-main-caps']"),
    ("", "DRAFT", "[data-test^='valve-']"),
    ("", "DRAFT", "[data-test='step-take-in']"),
];

/// What axe finds, as `rule, theme: element`. In the dark only what colours change is judged again.
const JUDGE: &str = "
    const done = arguments[arguments.length - 1]
    const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']
    const found = []
    const judge = async (theme, runOnly) => {
        document.documentElement.dataset.theme = theme
        await new Promise((settled) => setTimeout(settled, 50))
        // A sheet has some eighty sections of a few kinds: the first of them stand for the rest.
        const context = { exclude: [['article > section:nth-of-type(n+14)']] }
        const { violations } = await axe.run(context, { runOnly, resultTypes: ['violations'] })
        for (const { id, nodes } of violations)
            for (const { html } of nodes.slice(0, 3)) found.push(`${id}, ${theme}: ${html.slice(0, 160)}`)
    }
    const colours = { type: 'rule', values: ['color-contrast'] }
    judge('light', tags).then(() => judge('dark', colours)).then(() => done(found), (error) => done([String(error)]))";

async fn judge(screen: &Screen, axe: &str, place: &str) -> Result<Vec<String>> {
    screen.driver.set_script_timeout(Duration::from_secs(120)).await?;
    screen.driver.execute(axe, vec![]).await?;
    let found: Vec<String> = screen.driver.execute_async(JUDGE, vec![]).await?.convert()?;
    Ok(found.into_iter().map(|fault| format!("{place}: {fault}")).collect())
}

/// A lead of the demonstration at a screen, and where each route leads.
pub async fn lead(browser: &Browser, rigore: &Rigore, width: u32) -> Result<Screen> {
    let screen = browser.window(width, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.sign_over(&rigore.url("/"), "lead").await?;
    Ok(screen)
}

pub async fn address(rigore: &Rigore, engine: &str, place: &str) -> Result<String> {
    if !engine.is_empty() {
        return Ok(rigore.url(&format!("/engines/{}{place}", rigore.engine(engine).await?)));
    }
    let plans: Value = rigore_browser::get(rigore.url("/api/plans")).await?.json().await?;
    let tarn = plans.as_array().and_then(|all| all.iter().find(|plan| plan["id"] == "tarn-5"));
    let hash = tarn.and_then(|plan| plan["hash"].as_str()).context("the Tarn 5")?;
    Ok(rigore.url(&place.replace("PLAN", hash)))
}

/// axe-core, as npm installed it for the web part.
fn axe() -> Result<String> {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js");
    std::fs::read_to_string(path).context("axe-core is not installed: npm --prefix web ci")
}

/// Judges what is on a screen now: a state that a test has just come to.
pub async fn passes_axe(screen: &Screen, place: &str) -> Result<()> {
    let found = judge(screen, &axe()?, place).await?;
    ensure!(found.is_empty(), "{}", found.join("\n"));
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn every_route_passes_axe_in_both_themes() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 1280).await?;
    let axe = axe()?;
    let mut found = Vec::new();
    for (engine, place, wanted) in ROUTES {
        screen.go(&address(&rigore, engine, place).await?).await?;
        screen.see(wanted).await.with_context(|| format!("{engine}{place}"))?;
        found.extend(judge(&screen, &axe, &format!("{engine}{place}")).await?);
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn every_dialog_passes_axe_in_both_themes() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 1280).await?;
    let axe = axe()?;
    let mut found = Vec::new();
    screen.go(&address(&rigore, "", "/plans/PLAN").await?).await?;
    screen.click("[data-test='change-plan']").await?;
    screen.see("[data-test='draft-state'][data-state='saved']").await?;
    let draft = screen.driver.current_url().await?.to_string();
    for (engine, place, opener) in DIALOGS {
        let page = if *place == "DRAFT" { draft.clone() } else { address(&rigore, engine, place).await? };
        screen.go(&page).await?;
        let opens = screen.click(opener).await;
        if let Err(error) = opens.and(screen.see("[role='dialog'] h2").await.map(|_| ())) {
            found.push(format!("{place} {opener} opens no dialog: {error}"));
            continue;
        }
        found.extend(judge(&screen, &axe, opener).await?);
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}

/// What is wider than the window.
const NARROW: &str = "
    const width = document.documentElement.scrollWidth
    return width > 320 ? [`${width} px wide`] : []";

#[tokio::test(flavor = "multi_thread")]
async fn no_route_scrolls_sideways_at_320_px() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 320).await?;
    let mut found = Vec::new();
    for (engine, place, wanted) in ROUTES {
        screen.go(&address(&rigore, engine, place).await?).await?;
        screen.see(wanted).await.with_context(|| format!("{engine}{place}"))?;
        let faults: Vec<String> = screen.driver.execute(NARROW, vec![]).await?.convert()?;
        found.extend(faults.into_iter().map(|fault| format!("{engine}{place}: {fault}")));
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn tab_reaches_the_skip_link_first_and_a_link_leads_onto_its_page() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let tab = char::from(Key::Tab).to_string();
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='Tarn 5 no. 12']").await?;
    screen.keys(&tab).await?;
    screen.see("a.skip-link:focus").await?;
    screen.line("").await?;
    screen.see("main:focus").await?;
    // A page that was gone to has the focus: the next Tab is on it.
    screen.click("header a[href='/day']").await?;
    screen.read("h1", "Day").await?;
    screen.see("main:focus").await?;
    // Help is there by F1 everywhere, and by ? until single keys are switched off.
    screen.keys("?").await?;
    screen.read("[data-test='help']", "What can be started now").await?;
    screen.click("[data-test='help'] input[name='shortcuts']").await?;
    screen.keys(&char::from(Key::Escape).to_string()).await?;
    screen.count("[data-test='help']", 0).await?;
    screen.keys("?/").await?;
    screen.keys(&char::from(Key::F1).to_string()).await?;
    screen.read("[data-test='help']", "Single keys are shortcuts").await?;
    screen.count("[data-test='finds']", 0).await?;
    screen.close().await
}

/// Controls of the page that a finger can miss: below 44 px in height, or 24 px in width.
const SMALL: &str = "
    return [...document.querySelectorAll('header button, main button, main select, main a, main input, main summary')]
        .filter((control) => control.checkVisibility() && !control.closest('.sr-only, li a span, td p, p a'))
        .filter((control) => !['radio', 'checkbox', 'file'].includes(control.type))
        .map((control) => [control, control.getBoundingClientRect()])
        .filter(([control, box]) => box.height > 0 && (box.height < 43.5 || box.width < 24))
        .map(([control, box]) => `${Math.round(box.width)} x ${Math.round(box.height)}: ${control.outerHTML.slice(0, 120)}`)";

#[tokio::test(flavor = "multi_thread")]
async fn at_the_bench_on_a_phone_nothing_to_be_tapped_is_smaller_than_44_px() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 390).await?;
    let mut found = Vec::new();
    for (engine, place, wanted) in ROUTES.iter().filter(|(_, place, _)| place.starts_with("/bench")) {
        screen.go(&address(&rigore, engine, place).await?).await?;
        screen.see(wanted).await.with_context(|| format!("{engine}{place}"))?;
        let faults: Vec<String> = screen.driver.execute(SMALL, vec![]).await?.convert()?;
        found.extend(faults.into_iter().map(|fault| format!("{engine}{place}: {fault}")));
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_that_cannot_be_opened_without_a_connection_says_so_and_opens_when_it_is_back() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let mut rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='Tarn 5 no. 12']").await?;
    rigore.crash()?;
    screen.see("[data-test='away']").await?;
    screen.click("header a[href='/plans']").await?;
    screen.read("[data-test='unopened']", "Plans cannot be opened without a connection").await?;
    // What was open is still there.
    screen.see("[data-test='Tarn 5 no. 12']").await?;
    rigore.start_again().await?;
    screen.count("[data-test='away']", 0).await?;
    screen.click("header a[href='/plans']").await?;
    screen.see("[data-test='plan-skerry-8']").await?;
    screen.count("[data-test='unopened']", 0).await?;
    screen.close().await
}

/// Whether a control can be reached by Tab: one of a group of choices stands for all of them.
const CONTROLS: &str = "
    const of = 'a[href], button, input, select, textarea, summary, [tabindex=\"0\"]'
    const reachable = (control) =>
        control.checkVisibility({ visibilityProperty: true }) && !control.disabled && !control.closest('[inert]') &&
        control.tabIndex >= 0 && control.type !== 'radio' && !control.closest('.cm-editor')
    window.missed = new Set([...document.querySelectorAll(of)].filter(reachable))
    window.unseen = []
    document.addEventListener('focusin', ({ target }) => {
        window.missed.delete(target)
        const { outlineStyle, outlineWidth, boxShadow } = getComputedStyle(target)
        const marked = (outlineStyle !== 'none' && outlineWidth !== '0px') || boxShadow !== 'none'
        if (!marked && target.matches(of)) window.unseen.push(target.outerHTML.slice(0, 140))
    })
    document.activeElement?.blur?.()
    return window.missed.size";

/// What Tab did not come to, and what had the focus without showing it.
const MISSED: &str = "
    const missed = [...window.missed].filter((control) => control.isConnected && control.checkVisibility())
    return [...missed.map((control) => `not reached: ${control.outerHTML.slice(0, 140)}`),
        ...window.unseen.map((html) => `focus not seen: ${html}`)].slice(0, 5)";

#[tokio::test(flavor = "multi_thread")]
async fn every_control_of_every_route_is_reached_by_tab_and_shows_its_focus() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 1280).await?;
    let mut found = Vec::new();
    for (engine, place, wanted) in ROUTES {
        screen.go(&address(&rigore, engine, place).await?).await?;
        screen.see(wanted).await.with_context(|| format!("{engine}{place}"))?;
        let controls: usize = screen.driver.execute(CONTROLS, vec![]).await?.convert()?;
        // A sheet has a link for each fastener: there it is only whether the focus shows.
        let rounds = if controls > 300 { 1 } else { 12 };
        let mut faults = Vec::new();
        for _ in 0..rounds {
            screen.keys(&char::from(Key::Tab).to_string().repeat(40)).await?;
            faults = screen.driver.execute(MISSED, vec![]).await?.convert()?;
            if faults.is_empty() {
                break;
            }
        }
        faults.retain(|fault: &String| rounds > 1 || !fault.starts_with("not reached"));
        found.extend(faults.into_iter().map(|fault| format!("{engine}{place}: {fault}")));
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}
