//! Every place on a phone: nothing wider than the page, and every control has a name.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use thirtyfour::Key;

/// Places of the demonstration: engine, place under it, what has to be there.
const PLACES: &[(&str, &str, &str)] = &[
    ("", "", "[data-test='Tarn 5 no. 12']"),
    ("Tarn 5 no. 15", "", "[data-test='line-main-oil']"),
    ("", "day", "[data-test='promised'] li"),
    ("", "tools", "main a[href='/practice']"),
    ("", "own/instruments/rig-wrench", "[data-test='used'] li"),
    ("Tarn 5 no. 14", "/bench/take-in", "input[name='reference']"),
    ("Tarn 5 no. 9", "/bench/take-in", "[data-test='rod-5']"),
    ("Tarn 5 no. 14", "/bench/hardware-out", "input[name='count']"),
    ("Tarn 5 no. 12", "/bench/main-caps-prepare", "[data-test='confirm']"),
    ("Tarn 5 no. 16", "/bench/mains-measure", "input[name='reading']"),
    ("Tarn 5 no. 15", "/bench/mains-measure", "[data-test='main-oil-6']"),
    ("Tarn 5 no. 17", "/bench/rings-file", "[data-test='file']"),
    ("Tarn 5 no. 10", "/bench/valves-measure", "[data-test='clearance-inlet-play']"),
    ("Tarn 5 no. 9", "/bench/main-caps-turn", "[data-test='turns']"),
    ("Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='target']"),
    ("Tarn 5 no. 11", "/bench/main-caps-tighten", "[data-test='clock']"),
    ("Ostra 11 no. 3", "/bench/cylinders-measure", "[data-test='clearance-piston-play']"),
    ("Tarn 5 no. 9", "/sheet", "[data-test='row-3L']"),
];

/// What is wrong with a page, as a list of texts: no title, wider than the window, controls without a name.
const FAULTS: &str = "
    const faults = []
    if (!document.title.endsWith(' · Rigore')) faults.push(`called only ${document.title}`)
    const width = document.documentElement.scrollWidth
    if (width > Math.min(window.outerWidth, screen.width)) faults.push(`wider than the page: ${width}`)
    const plain = (text) => (text ?? '').replace(/\\s+/g, ' ').trim().toLowerCase()
    const seen = (control) => {
        const copy = control.cloneNode(true)
        copy.querySelectorAll('[aria-hidden=true], .sr-only, title, select').forEach((hidden) => hidden.remove())
        return plain([...copy.childNodes].map((node) => node.textContent).join(' '))
    }
    for (const control of document.querySelectorAll('button, a, input, select, textarea, summary, [role=button], [role=tab]')) {
        if (!control.checkVisibility()) continue
        const said = control.getAttribute('aria-label')
        const name = said || control.textContent || control.title ||
            [...(control.labels ?? [])].map((label) => label.innerText || label.textContent).join('')
        if (!name.trim()) faults.push(`without a name: ${control.outerHTML.slice(0, 120)}`)
        // Whoever says what they see has to be understood.
        if (said && control.matches(':not(input, select, textarea)') && !plain(said).includes(seen(control))) {
            faults.push('called ' + said + ', but reads ' + seen(control))
        }
    }
    for (const picture of document.querySelectorAll('svg:not([aria-hidden]), img:not([alt])')) {
        if (!picture.getAttribute('aria-label') && !picture.closest('[role=img]')) faults.push(`a picture without words: ${picture.outerHTML.slice(0, 80)}`)
    }
    return faults";

/// Goes to every place and gathers what a script finds wrong there.
async fn gather(screen: &Screen, rigore: &Rigore, script: &str) -> Result<Vec<String>> {
    let mut found = Vec::new();
    for (engine, place, wanted) in PLACES {
        let path = match *engine {
            "" => format!("/{place}"),
            engine => format!("/engines/{}{place}", rigore.engine(engine).await?),
        };
        screen.go(&rigore.url(&path)).await?;
        screen.see(wanted).await?;
        let faults = screen.driver.execute(script, vec![]).await?;
        for fault in faults.json().as_array().context("a list")? {
            found.push(format!("{engine}{place}: {}", fault.as_str().unwrap_or_default()));
        }
    }
    Ok(found)
}

#[tokio::test(flavor = "multi_thread")]
async fn every_place_fits_a_phone_and_every_control_has_a_name() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    let faults = gather(&screen, &rigore, FAULTS).await?;
    ensure!(faults.is_empty(), "{}", faults.join("\n"));
    screen.close().await
}

/// How large each head of a map is drawn, the smaller of its sides, px.
const HEADS: &str = "return [...document.querySelectorAll('[data-test=head]')].map((head) => {
    const box = head.getBoundingClientRect()
    return Math.min(box.width, box.height)
})";

#[tokio::test(flavor = "multi_thread")]
async fn on_a_phone_the_map_is_turned_and_its_bolts_fit_a_thumb() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let bench = rigore.url(&format!("/engines/{build}/bench/main-caps-tighten"));
    let phone = browser.window(390, 844).await?;
    phone.go(&bench).await?;
    phone.see("[data-turned='true']").await?;
    let heads: Vec<f64> = phone.driver.execute(HEADS, vec![]).await?.convert()?;
    ensure!(heads.len() == 12 && heads.iter().all(|side| *side > 43.9), "{heads:?}");
    // Any of them can be touched, and then it is the one in hand.
    phone.click("[data-test='map-5R']").await?;
    phone.read("[data-test='fastener']", "5R").await?;
    phone.close().await?;
    let wide = browser.window(1280, 800).await?;
    wide.go(&bench).await?;
    wide.see("[data-turned='false']").await?;
    wide.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_sheet_is_scrolled_by_keyboard_on_a_phone_and_dated_the_same_everywhere() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let build = rigore.engine("Tarn 5 no. 9").await?;
    let sheet = rigore.url(&format!("/engines/{build}/sheet"));
    let mut told = Vec::new();
    for zone in ["Pacific/Auckland", "America/Los_Angeles"] {
        let screen = browser.window(390, 844).await?;
        let cdp = screen.driver.cdp();
        cdp.send_raw("Emulation.setTimezoneOverride", serde_json::json!({ "timezoneId": zone })).await?;
        cdp.send_raw("Emulation.setLocaleOverride", serde_json::json!({ "locale": "en-US" })).await?;
        screen.go(&sheet).await?;
        screen.see("[data-test='row-3L']").await?;
        let text = "return document.querySelector('main').innerText";
        told.push(screen.driver.execute(text, vec![]).await?.json().as_str().unwrap_or_default().to_owned());
        // Every table that is wider than the page takes the focus and goes along with an arrow key.
        let wide = "return [...document.querySelectorAll('table')].map((table) => {
            let box = table.parentElement
            while (box && box.scrollWidth <= box.clientWidth) box = box.parentElement
            if (!box || box === document.documentElement) return 'fits'
            box.focus()
            return document.activeElement === box && box.getAttribute('aria-label') ? 'scrolls' : box.outerHTML.slice(0, 200)
        })";
        let boxes: Vec<String> = screen.driver.execute(wide, vec![]).await?.convert()?;
        ensure!(boxes.iter().any(|found| found == "scrolls"), "{boxes:?}");
        ensure!(boxes.iter().all(|found| found == "scrolls" || found == "fits"), "{boxes:?}");
        // The widest of them is moved.
        let widest = "const beyond = (box) => box.scrollWidth - box.clientWidth
            const boxes = [...document.querySelectorAll('[aria-label]')].filter((box) => box.querySelector('table'))
            boxes.sort((a, b) => beyond(b) - beyond(a))[0].focus()";
        screen.driver.execute(widest, vec![]).await?;
        for _ in 0..4 {
            screen.driver.active_element().await?.send_keys(thirtyfour::Key::Right + "").await?;
        }
        let mut moved = 0.0;
        for _ in 0..40 {
            let left = screen.driver.execute("return document.activeElement.scrollLeft", vec![]).await?;
            moved = left.json().as_f64().context("a number")?;
            if moved > 0.0 {
                break;
            }
            tokio::time::sleep(std::time::Duration::from_millis(50)).await;
        }
        ensure!(moved > 0.0, "the table stays where it is");
        screen.close().await?;
    }
    ensure!(told[0] == told[1], "the sheet reads otherwise in another zone:\n{}\n{}", told[0], told[1]);
    ensure!(told[0].contains("UTC"), "the zone is said");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn an_old_engine_is_measured_in_inches_and_shown_in_whatever_unit_is_chosen() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Ostra 11 no. 3").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/cylinders-measure"))).await?;
    // All is measured; cylinder 2 is out. It is measured again with a gauge that reads inches.
    screen.see("[data-test='piston-play-2'][data-decision='outside']").await?;
    screen.click("[data-test='family-cylinder']").await?;
    screen.click("[data-test='cylinder-right/0']").await?;
    screen.read("[data-test='site']", "Cylinder right").await?;
    screen.click("select[name='instrument'] option[value='telescope']").await?;
    screen.click("select[name='gauge-unit'] option:nth-child(3)").await?;
    // Millimetres typed for inches are noticed.
    screen.see("input[name='reading']").await?.send_keys("78.61").await?;
    screen.line("").await?;
    screen.read("[data-test='asked']", "Possible slip: millimeters. 78.610 mm would fit").await?;
    screen.select_all().await?;
    screen.line("3.0949").await?;
    screen.read("[data-test='readings']", "78.610 mm").await?;
    // Both readings are kept, and all is shown in the unit that is chosen.
    screen.see("[data-test='readings'] tr").await?;
    screen.click("select[name='length-unit'] option:nth-child(3)").await?;
    screen.read("[data-test='readings']", "3.0949 in").await?;
    // Sizes and clearances have units of their own.
    screen.read("[data-test='clearance-piston-play']", "mm, target").await?;
    screen.click("select[name='clearance-unit'] option:nth-child(4)").await?;
    screen.read("[data-test='clearance-piston-play']", "3.5 to 7.0 thou, target 5.0 thou").await?;
    screen.read("[data-test='readings']", "3.0949 in").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn anything_is_found_from_anywhere_by_one_key() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    // At the bench, where the field of the reading has the focus.
    let id = rigore.engine("Tarn 5 no. 13").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/main-caps-tighten"))).await?;
    screen.see("input[name='reading']").await?;
    let find = async |words: &str| -> Result<()> {
        screen.keys("/").await?;
        screen.see("input[name='find-anything']:focus").await?;
        screen.keys(words).await
    };
    // By its owner; an engine that is finished, too.
    find("breakwater").await?;
    screen.read("[data-test='finds']", "Tarn 5 no. 9").await?;
    screen.keys(&char::from(Key::Escape).to_string()).await?;
    for (words, reads, title) in [
        ("slip hall no. 3", "Ostra 11 no. 3", "Ostra 11 no. 3"),
        ("no. 9", "Tarn 5 no. 9", "Tarn 5 no. 9"),
        ("RB-9", "Rod bolts", "RB-9"),
        ("skerry", "Plan", "Skerry 8"),
        ("bolt length", "Instrument", "Bolt length gauge"),
    ] {
        find(words).await?;
        screen.read("[data-test='finds']", reads).await?;
        // The first one is taken, or the first of its kind.
        while !screen.see("[role='option'][aria-selected='true']").await?.text().await?.contains(reads) {
            screen.keys(&char::from(Key::Down).to_string()).await?;
        }
        screen.line("").await?;
        screen.read("h1", title).await?;
    }
    find("nothing of the kind").await?;
    screen.read("[data-test='finds']", "Nothing matches").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_focus_goes_back_where_it_was_or_to_the_reading() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let escape = char::from(Key::Escape).to_string();
    screen.go(&rigore.url("/")).await?;
    screen.enter_as("lead").await?;
    screen.go(&rigore.url("/friction")).await?;
    screen.click("[data-test='add-lubricant']").await?;
    screen.see("[role='dialog'] :focus").await?;
    screen.keys(&escape).await?;
    screen.see("[data-test='add-lubricant']:focus").await?;
    // At the bench the next figure is typed, whatever was tapped before.
    let id = rigore.engine("Tarn 5 no. 13").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/main-caps-tighten"))).await?;
    screen.click("[data-test='leave-out']").await?;
    screen.see("[role='dialog'] :focus").await?;
    screen.keys(&escape).await?;
    screen.see("input[name='reading']:focus").await?;
    screen.close().await
}
