//! Papers that leave the shop, and lists that come in: letterhead, work order, parts list, labels, pasted instruments.

use anyhow::{Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use serde_json::json;

/// Texts that are smaller than 9 pt on paper, those of drawings as they are scaled.
const SMALL: &str = "
    const small = []
    const walk = document.createTreeWalker(document.querySelector('article'), NodeFilter.SHOW_TEXT)
    while (walk.nextNode()) {
        const text = walk.currentNode.textContent.trim()
        const element = walk.currentNode.parentElement
        if (!text || !element.checkVisibility() || element.closest('.sr-only, .no-print, title')) continue
        const svg = element.closest('svg')
        const scale = svg ? svg.getScreenCTM().a : 1
        const size = parseFloat(getComputedStyle(element).fontSize) * scale
        if (size < 11.9) small.push(`${text.slice(0, 30)}: ${size.toFixed(1)} px`)
    }
    return small.slice(0, 10)";

/// Names of fasteners that their drawing cuts, or that stand on one another.
const HIDDEN: &str = "
    const hidden = []
    for (const svg of document.querySelectorAll('article svg[role=group]')) {
        const room = svg.getBoundingClientRect()
        const names = [...svg.querySelectorAll('text')].map((of) => [of.textContent.trim(), of.getBoundingClientRect()])
        names.forEach(([name, at], i) => {
            const cut = at.left < room.left - 1 || at.right > room.right + 1 || at.top < room.top - 1
            if (cut || at.bottom > room.bottom + 1) hidden.push(`${svg.ariaLabel}: ${name} is cut`)
            for (const [other, is] of names.slice(i + 1)) {
                const across = Math.min(at.right, is.right) - Math.max(at.left, is.left)
                const down = Math.min(at.bottom, is.bottom) - Math.max(at.top, is.top)
                if (across > 1 && down > 5) hidden.push(`${svg.ariaLabel}: ${name} on ${other}`)
            }
        })
    }
    return hidden.slice(0, 20)";

async fn on_paper(screen: &Screen) -> Result<()> {
    screen.driver.cdp().send_raw("Emulation.setEmulatedMedia", json!({ "media": "print" })).await?;
    // A4 within its margins.
    screen.size(718, 1000).await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_letterhead_is_on_every_paper_and_nothing_on_paper_is_smaller_than_9_pt() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.sign_over(&rigore.url("/"), "lead").await?;
    screen.go(&rigore.url("/own")).await?;
    // A name is needed; what else was typed stays.
    let name = screen.see("input[name='letterhead-name']").await?;
    screen.see("[data-test='letterhead-setting'] img").await?;
    name.click().await?;
    screen.select_all().await?;
    screen.line(" ").await?;
    screen.read("[data-test='wrong-letterhead-name']", "1 to 200 characters").await?;
    screen.select_all().await?;
    screen.line("Quay Four").await?;
    screen.read("[data-test='letterhead-setting']", "Saved").await?;

    let open = rigore.engine("Tarn 5 no. 23").await?;
    let finished = rigore.engine("Tarn 5 no. 9").await?;
    screen.go(&rigore.url(&format!("/engines/{open}"))).await?;
    screen.click("[data-test='papers'] a[href$='/work-order']").await?;
    screen.read("[data-test='letterhead']", "Quay Four").await?;
    screen.read("[data-test='work-order']", "Fit the intake").await?;
    screen.read("[data-test='work-order']", "Flywheel 1 of 3").await?;
    // What is finished is on the build sheet, and here where somebody asks for it.
    ensure!(!screen.see("[data-test='work-order']").await?.text().await?.contains("Fit the crankshaft"));
    screen.click("input[name='with-finished']").await?;
    screen.read("[data-test='work-order']", "Fit the crankshaft").await?;
    // What differs from one rod to the next is said of each.
    screen.read("[data-test='work-order']", "Protectors on the bolts of rod 3").await?;
    screen.go(&rigore.url(&format!("/engines/{open}/parts-list"))).await?;
    screen.read("article", "PT5-R-23-3").await?;
    screen.read("article", "Main cap washers").await?;
    // A label for the engine first; for every part and for trays where they are wanted.
    screen.go(&rigore.url(&format!("/engines/{open}/labels"))).await?;
    screen.count("[data-test='labels'] li", 1).await?;
    screen.click("[data-test='all-parts']").await?;
    screen.read("[data-test='labels']", "PT5-R-23-3").await?;
    screen.click("input[name='trays']").await?;
    let count = screen.see("input[name='tray-count']").await?;
    count.click().await?;
    screen.select_all().await?;
    screen.keys("3").await?;
    screen.read("[data-test='labels']", "Tray 3").await?;
    let code =
        screen.see("[data-test='labels'] li:last-child img").await?.attr("src").await?.unwrap_or_default();
    ensure!(code.contains("path=%2Fparts%2F") || code.contains("path=%2Fengines%2F"), "{code}");

    on_paper(&screen).await?;
    for path in [format!("{finished}/sheet"), format!("{open}/work-order"), format!("{open}/parts-list")] {
        screen.go(&rigore.url(&format!("/engines/{path}"))).await?;
        screen.see("article table").await?;
        let small: Vec<String> = screen.driver.execute(SMALL, vec![]).await?.convert()?;
        ensure!(small.is_empty(), "{path}:\n{}", small.join("\n"));
        let hidden: Vec<String> = screen.driver.execute(HIDDEN, vec![]).await?.convert()?;
        ensure!(hidden.is_empty(), "{path}:\n{}", hidden.join("\n"));
    }
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn instruments_are_pasted_from_a_spreadsheet_found_and_sorted() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/")).await?;
    screen.sign_over(&rigore.url("/"), "lead").await?;
    screen.go(&rigore.url("/own")).await?;
    screen.click("[data-test='paste-instruments']").await?;
    let rows = "Instrument\tType\tSerial no.\tMin\tMax\tUnit\tStep\tDue\n\
        Click wrench 7\tclick\tQ-7\t15\t75\tft-lb\t1\t2031-05-01\n\
        Micrometer 8\tmicrometer\tQ-8\t0\t1\tin\t0.0001\t\n\
        Wrench 9\tdial\tQ-9\tmany\t50\tNm\t\t";
    let put = "const of = document.querySelector('[name=pasted-instruments]'); of.value = arguments[0]; of.dispatchEvent(new Event('input'))";
    screen.see("[name='pasted-instruments']").await?;
    screen.driver.execute(put, vec![rows.into()]).await?;
    screen.read("[data-test='pasted-rows']", "From: a number is needed").await?;
    screen.read("[data-test='add-pasted']", "Add 2").await?;
    screen.click("[data-test='add-pasted']").await?;
    // What could not be read is still there; corrected, it is added too.
    screen.count("[data-test='pasted-rows'] tbody tr", 1).await?;
    let left = "return document.querySelector('[name=pasted-instruments]').value";
    let left: String = screen.driver.execute(left, vec![]).await?.convert()?;
    screen.driver.execute(put, vec![left.replace("many", "5").into()]).await?;
    screen.click("[data-test='add-pasted']").await?;
    screen.count("[role='dialog']", 0).await?;
    screen.read("[data-test='instruments']", "Wrench 9").await?;
    let all: serde_json::Value = rigore_browser::get(rigore.url("/api/instruments")).await?.json().await?;
    let of =
        |serial: &str| all.as_array().and_then(|all| all.iter().find(|of| of["serial"] == serial)).cloned();
    let click = of("Q-7").unwrap_or_default();
    ensure!(click["clicks"] == true && click["calibration_due"] == "2031-05-01", "{click}");
    ensure!(click["torque_nm"] == json!([20.33727, 101.6863]), "{click}");
    let micrometer = of("Q-8").unwrap_or_default();
    ensure!(
        micrometer["length_mm"] == json!([0.0, 25.4]) && micrometer["resolution"] == json!(0.00254),
        "{micrometer}"
    );

    let first = "[data-test='instruments'] tbody tr:first-child";
    screen.click("[data-test='sort-name']").await?;
    screen.click("[data-test='sort-name']").await?;
    screen.read(first, "Wrench 9").await?;
    screen.see("[aria-sort='descending'] [data-test='sort-name']").await?;
    screen.see("input[name='find-instrument']").await?.send_keys("micrometer q-8").await?;
    screen.count("[data-test='instruments'] tbody tr", 1).await?;
    screen.read(first, "Micrometer 8").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn each_verdict_is_said_once_and_any_key_can_be_the_large_button() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 13").await?;
    let bench = rigore.url(&format!("/engines/{id}/bench/main-caps-tighten"));
    screen.go(&bench).await?;
    // What the browser's speech is given is noted.
    let note = "window.heard = []; window.speechSynthesis.speak = (of) => window.heard.push(of.text)";
    screen.see("input[name='reading']").await?;
    screen.driver.execute(note, vec![]).await?;
    let next = screen.see("[data-test='fastener']").await?.text().await?;
    screen.line("30").await?;
    screen.read("[data-test='announcement']", &format!("{next} OK, 30.0 N·m. Next ")).await?;
    let heard = "return window.heard.length";
    ensure!(screen.driver.execute(heard, vec![]).await?.json() == &json!(0), "the voice is off");

    // Keys are set where they are listed.
    screen.keys("?").await?;
    screen.click("input[name='voice']").await?;
    screen.click("input[name='single-keys'][value='large-button']").await?;
    screen.keys("\u{e00c}").await?;
    screen.count("[role='dialog']", 0).await?;
    // A letter is no shortcut now but the large button: the wrench is set, then it clicked.
    screen.see("[data-test='heard'][data-listens='true']").await?;
    screen.keys("v").await?;
    screen.read("[data-test='heard']", "It clicked").await?;
    let next = screen.see("[data-test='fastener']").await?.text().await?;
    screen.see("[data-test='heard'][data-listens='true']").await?;
    screen.keys("b").await?;
    screen.read("[data-test='verdict']", &next).await?;
    let last = "return window.heard.at(-1) ?? ''";
    let mut said = String::new();
    for _ in 0..40 {
        said = screen.driver.execute(last, vec![]).await?.convert()?;
        if said.contains(&next) {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    ensure!(said.starts_with(&format!("{next} ")) && said.contains("newton meters. Next "), "{said}");
    // A control that has the focus is pressed by the space bar, and nothing else is.
    let focus = "document.querySelector('[data-test=void-last]').focus()";
    screen.driver.execute(focus, vec![]).await?;
    screen.keys(" ").await?;
    screen.see("[role='dialog'] #reason").await?;
    screen.keys("\u{e00c}").await?;
    screen.count("[role='dialog']", 0).await?;
    // The last pull is voided from where its verdict stands.
    screen.click("[data-test='void-last']").await?;
    screen.reason("Wrong fastener").await?;
    screen.read("[data-test='fastener']", &next).await?;
    screen.close().await
}
