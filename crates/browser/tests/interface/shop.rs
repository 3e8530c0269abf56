//! Taking engines in, the sheet on screen and on paper, taking things back.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_store::Scratch;
use serde_json::{Value, json};
use uuid::Uuid;

#[tokio::test(flavor = "multi_thread")]
async fn what_is_wrong_with_an_engine_taken_in_is_said_and_what_was_entered_stays() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='Ostra 11 no. 3']").await?;
    screen.click("main button.key").await?;
    screen.see("input[name='owner']").await?.send_keys("Slip hall museum").await?;
    screen.click("[role='dialog'] button[type='submit']").await?;
    screen.read("[role='dialog'] [role='alert']", "a name of 1 to 80 characters").await?;
    assert_eq!(screen.see("input[name='owner']").await?.value().await?.as_deref(), Some("Slip hall museum"));

    // The uses are those of the plan that is chosen.
    screen.click("select[name='plan'] option:nth-child(1)").await?;
    screen.read("select[name='use']", "vintage").await?;
    screen.see("input[name='name']").await?.send_keys("Ostra 11 no. 5").await?;
    screen.click("[role='dialog'] button[type='submit']").await?;
    screen.read("h1", "Ostra 11 no. 5").await?;
    screen.read("main", "Slip hall museum").await?;
    screen.read("[data-test='crank-in']", "Waits for Swing the rods").await?;
    screen.count("[data-status='ready']", 1).await?;

    // A viewer looks, and records nothing.
    screen.enter_as("viewer").await?;
    screen.click("[data-test='take-in'] a").await?;
    screen.see("input[name='reference']").await?.send_keys("Case").await?;
    screen.line("").await?;
    screen.read("[data-test='refusal']", "may view, not record").await?;
    assert_eq!(screen.see("input[name='reference']").await?.value().await?.as_deref(), Some("Case"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_finished_engine_prints_its_sheet_whole() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 9").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/sheet"))).await?;
    screen.read("article", "Finished and signed").await?;
    screen.read("article", "Breakwater racing").await?;
    screen.read("[data-test='part-rod-3']", "PT5-R-9-3").await?;
    screen.read("[data-test='part-block']", "torque plate").await?;
    screen.read("[data-test='count-pin-lock']", "12 of 10").await?;
    screen.read("article", "2 of 2 back").await?;
    screen.read("article", "Turned freely, 3.2 N·m").await?;
    // Every kind of clearance, that of the rods five times, with the places, taper and out-of-round opened.
    screen.count("article figure[data-test^='clearance-']", 27).await?;
    screen.count("article details[open]", 5).await?;
    // Warm cylinders are shown as they were read, too.
    screen.read("article", "at 24 °C").await?;

    // On paper: no keys, no header, nothing cut off at the side.
    let media = json!({ "media": "print" });
    screen.driver.cdp().send_raw("Emulation.setEmulatedMedia", media).await?;
    screen.size(700, 1000).await?;
    let shown = "return ['header', '.no-print', 'summary'].flatMap((css) =>
        [...document.querySelectorAll(css)].filter((e) => e.closest('article') ? css === 'summary' : css !== 'summary'))
        .filter((e) => e.checkVisibility()).map((e) => e.outerHTML.slice(0, 80))";
    let left = screen.driver.execute(shown, vec![]).await?;
    assert_eq!(left.json(), &json!([]));
    let wide = screen.driver.execute("return document.documentElement.scrollWidth", vec![]).await?;
    ensure!(wide.json().as_i64().is_some_and(|wide| wide <= 700), "{}", wide.json());

    // The same in open formats.
    let sheet: Value =
        rigore_browser::get(rigore.url(&format!("/api/builds/{id}/sheet"))).await?.json().await?;
    assert_eq!(sheet["sections"].as_array().map(Vec::len), Some(76));
    let csv = rigore_browser::get(rigore.url(&format!("/api/builds/{id}/sheet.csv"))).await?.text().await?;
    assert_eq!(csv.lines().count(), 587, "a header and 586 pulls");
    let csv =
        rigore_browser::get(rigore.url(&format!("/api/builds/{id}/readings.csv"))).await?.text().await?;
    let readings: usize = sheet["sections"]
        .as_array()
        .context("sections")?
        .iter()
        .filter_map(|section| section["readings"].as_array().map(Vec::len))
        .sum();
    assert_eq!(csv.lines().count(), 1 + readings);
    let text = async |file: &str| -> Result<String> {
        let answer = rigore_browser::get(rigore.url(&format!("/api/builds/{id}/{file}.csv"))).await?;
        let bytes = answer.bytes().await?;
        ensure!(bytes.starts_with("\u{feff}".as_bytes()), "a spreadsheet takes it for UTF-8");
        Ok(String::from_utf8_lossy(&bytes).into_owned())
    };
    let build: Value = rigore_browser::get(rigore.url(&format!("/api/builds/{id}"))).await?.json().await?;
    let parts = build["parts"].as_array().context("parts")?;
    assert_eq!(text("parts").await?.lines().count(), 1 + parts.len());
    assert_eq!(text("entries").await?.lines().count() as u64, 1 + build["seq"].as_u64().context("a number")?);
    let warm = csv.lines().find(|line| line.contains("Cylinder 1,top 0°")).context("a cylinder")?;
    ensure!(warm.contains(",mm,,24,") && warm.contains("Bore gauge 50 to 100,yes"), "{warm}");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_signature_is_taken_back_a_part_replaced_and_both_stay_readable() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 12").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/take-in"))).await?;
    screen.read("main", "Signed by Bench one").await?;

    // Another rod 3 comes in: the signature lapses, the first one stays readable.
    screen.click("[data-test='rod-3'] button").await?;
    let serial = screen.see("input[name='serial']").await?;
    assert_eq!(serial.value().await?.as_deref(), Some("PT5-R-12-3"));
    serial.click().await?;
    screen.select_all().await?;
    screen.line("PT5-R-13").await?;
    screen.read("[data-test='rod-3']", "serial PT5-R-13").await?;
    screen.read("[data-test='rod-3']", "serial PT5-R-12-3").await?;
    screen.click("[data-test='sign']").await?;
    // With another rod its bore is measured again, before anybody goes on.
    screen.read("h1", "Measure the big ends").await?;
    screen.read("[data-test='again']", "another Rod and cap 3 is in").await?;

    // A signature is taken back with a reason, and the engine says what is open again.
    screen.go(&rigore.url(&format!("/engines/{id}/bench/block-prepare"))).await?;
    screen.read("main", "Signed by Bench one").await?;
    screen.click("[aria-label^='Take back signature']").await?;
    screen.reason("an oil way was blown out again").await?;
    screen.see("[data-test='sign']").await?;
    screen.go(&rigore.url(&format!("/engines/{id}"))).await?;
    screen.see("[data-test='block-prepare'][data-status='to-sign']").await?;
    assert!(rigore.run("verify")?.contains(" 0 broken"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn shells_at_hand_bound_what_is_proposed() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 16").await?;
    // Everything is measured through the API, as another screen would.
    let client = rigore_browser::client();
    loop {
        let place = rigore.url(&format!("/api/builds/{id}/operations/mains-measure"));
        let bench: Value = client.get(&place).send().await?.json().await?;
        if bench["step"]["kind"] != "measure" {
            break;
        }
        let site = bench["step"]["site"].as_str().context("a site")?;
        let text = if site.contains("housing") { "58.997" } else { "1.3" };
        let what = json!({"type": "measure", "operation": "mains-measure", "site": site,
            "place": bench["step"]["place"], "text": text, "method": "typed", "instrument": "bore-gauge"});
        let command = json!({"id": uuid::Uuid::now_v7(), "seen": bench["seq"], "action": what});
        let request = client.post(rigore.url(&format!("/api/builds/{id}/commands")));
        request
            .header("cookie", "rigore=demonstration.bench-two")
            .json(&command)
            .send()
            .await?
            .error_for_status()?;
    }
    screen.go(&rigore.url(&format!("/engines/{id}/bench/mains-measure"))).await?;
    screen.read("[data-test='site']", "Choose shells").await?;
    let count = |grade: &str| format!("input[name='stock-{grade}']");
    for (grade, shells) in [("A", "2"), ("B", "5"), ("C", "4")] {
        let field = screen.see(&count(grade)).await?;
        field.click().await?;
        screen.select_all().await?;
        screen.line(shells).await?;
        screen.see(&format!("{}:enabled", count(grade))).await?;
    }
    screen.read("section[aria-label='Reading']", "Not enough shells").await?;
    screen.see(&count("B")).await?.click().await?;
    screen.select_all().await?;
    screen.line("8").await?;
    screen.click("[data-test='take-proposal']").await?;
    screen.see("[data-test='main-oil-6']:not([data-decision='open'])").await?;
    screen.read("[data-test='progress']", "54 of 54").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_set_of_bolts_is_recognised_in_its_second_engine_and_its_life_is_told() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 14").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/take-in"))).await?;
    screen.click("[data-test='rod-bolts'] button").await?;
    screen.read("[data-test='slot']", "Rod bolts").await?;
    screen.see("input[name='reference']").await?.send_keys("M9x1, by stretch").await?;
    screen.see("input[name='serial']").await?.send_keys("rb-21").await?;
    // It is said while the serial is typed, and kept when it is entered.
    screen.read("[data-test='known']", "is already known: used in Tarn 5 no. 21").await?;
    screen.read("[data-test='known']", "Rod 2 B: permanent stretch 0.009 mm").await?;
    screen.click("select[name='condition'] option[value='used']").await?;
    screen.click("[data-test='fit']").await?;
    screen.read("[data-test='lived-rod-bolts']", "Previous engines: Tarn 5 no. 21, used 1 time").await?;
    screen.read("body", "Rod bolts: Rod 2 B permanent stretch 0.009 mm").await?;
    // Its page, found by its number.
    screen.go(&rigore.url("/parts")).await?;
    screen.see("input[name='find']").await?.send_keys("b-21").await?;
    screen.count("[data-test='part']", 2).await?;
    screen.see("input[name='find']").await?.clear().await?;
    screen.see("input[name='find']").await?.send_keys("rb-21").await?;
    screen.count("[data-test='part']", 1).await?;
    screen.line("").await?;
    screen.read("[data-test='piece-4']", "scrap").await?;
    screen.read("[data-test='piece-3']", "yes").await?;
    // A nick on the third: it goes with the bolt.
    screen.click("[data-test='piece-3'] button").await?;
    screen.click("[data-test='kind-scrapped']").await?;
    screen.click("input[name='text']").await?;
    screen.line("a nick at the radius").await?;
    screen.read("[data-test='piece-3']", "is scrap: a nick at the radius").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_long_list_goes_on_page_by_page_and_is_there_again_on_the_way_back() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let client = rigore_browser::client();
    let plans: Value = client.get(rigore.url("/api/plans")).send().await?.json().await?;
    let before = client.get(rigore.url("/api/shop")).send().await?.json::<Value>().await?;
    let before = before["builds"].as_array().context("engines")?.len();
    for n in 1..=60 {
        let body = json!({ "id": Uuid::now_v7(), "name": format!("Row {n}"), "plan": plans[0]["hash"] });
        client.post(rigore.url("/api/builds")).json(&body).send().await?.error_for_status()?;
    }
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    let rows = "main > ul > li";
    screen.count(rows, 40).await?;
    screen.click("[data-test='more']").await?;
    screen.count(rows, before + 60).await?;
    screen.count("[data-test='more']", 0).await?;
    screen.click("[data-test='Row 1'] a").await?;
    screen.read("h1", "Row 1").await?;
    screen.driver.back().await?;
    screen.count(rows, before + 60).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn whoever_has_a_link_checks_a_printed_sheet_against_the_record() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 9").await?;
    let sheet = rigore.url(&format!("/engines/{id}/sheet"));
    screen.sign_over(&sheet, "lead").await?;
    screen.driver.goto(&sheet).await?;
    let printed = screen.see("[data-test='last-hash']").await?.text().await?;
    screen.click("[data-test='share']").await?;
    screen.click("[data-test='make-share']").await?;
    let link = screen.see("[data-test='share-link'] a").await?.attr("href").await?.context("a link")?;
    let stranger = browser.stranger(390, 800).await?;
    stranger.go(&rigore.url(&link)).await?;
    stranger.click("[data-test='printed-hash'] summary").await?;
    for (typed, says) in [("0000", "does not match this engine"), (&*printed, "It matches entry")] {
        let field = stranger.see("input[name='printed-hash']").await?;
        field.clear().await?;
        field.send_keys(format!("{typed}\u{e007}")).await?;
        stranger.read("[data-test='printed-hash']", says).await?;
    }
    stranger.close().await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn engines_and_parts_are_sorted_as_people_count_and_the_address_keeps_it() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = crate::accessible::lead(&browser, &rigore, 1280).await?;
    screen.go(&rigore.url("/")).await?;
    screen.click("select[name='sort'] option[value='name']").await?;
    screen.see("main ul:not(.opacity-60) > li:first-child[data-test^='Ostra']").await?;
    screen.fill("input[name='find']", "tarn").await?;
    screen.see("main ul:not(.opacity-60) > li:nth-child(2)[data-test='Tarn 5 no. 10']").await?;
    let address = screen.driver.current_url().await?;
    ensure!(address.query() == Some("find=tarn&sort=name"), "the address keeps the order: {address}");
    screen.go(&rigore.url("/parts?sort=serial")).await?;
    screen.see("th[aria-sort='ascending'] [data-test='sort-serial']").await?;
    screen.click("[data-test='sort-last-logged']").await?;
    screen.see("th[aria-sort='descending'] [data-test='sort-last-logged']").await?;
    screen.close().await
}
