//! The catalog of texts on the screens: no page has a text outside of it, and each country has its own words.

use crate::accessible::{ROUTES, address, lead};
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_store::Scratch;
use serde_json::json;

/// Speaks an accented English, and keeps what the server answers: whatever a page shows without accents, and the
/// server did not send, is not from the catalog.
const ACCENTED: &str = "
    try { localStorage.setItem('rigore.language', 'en-XA') } catch { /* a page without storage */ }
    window.answers = ''
    const real = window.fetch
    window.fetch = async (...all) => {
        const answer = await real(...all)
        answer.clone().text().then((text) => (window.answers += text.toLowerCase()))
        return answer
    }";

/// Words of a page that are neither accented nor from the server.
const LEFT_OUT: &str = "
    const texts = []
    const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walk.nextNode()) {
        const element = walk.currentNode.parentElement
        if (element.checkVisibility() && !element.closest('code, pre, style, script, [lang=en-US], [lang=en-GB]'))
            texts.push(walk.currentNode.textContent)
    }
    for (const element of document.querySelectorAll('[placeholder], [aria-label], [title], [alt]'))
        for (const name of ['placeholder', 'aria-label', 'title', 'alt'])
            if (element.hasAttribute(name) && element.tagName !== 'svg') texts.push(element.getAttribute(name))
    const units = /^(rigore|thou|steel)$/
    const sent = new Set(window.answers.match(/[a-z]+/g))
    return texts
        .flatMap((text) => (text.match(/[a-zàéîöû]{3,}/gi) ?? []).map((word) => [word, text.trim()]))
        .filter(([word]) => /[aeiou]/.test(word) && !/[àéîöû]/.test(word))
        .filter(([word]) => !units.test(word.toLowerCase()) && !sent.has(word.toLowerCase()))
        .map(([word, text]) => `${word}: ${text.slice(0, 80)}`)";

#[tokio::test(flavor = "multi_thread")]
async fn no_text_of_a_page_is_outside_the_catalog() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 1280).await?;
    let source = json!({ "source": ACCENTED });
    screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
    let mut found = Vec::new();
    for (engine, place, wanted) in ROUTES {
        screen.go(&address(&rigore, engine, place).await?).await?;
        screen.see(wanted).await.with_context(|| format!("{engine}{place}"))?;
        let left: Vec<String> = screen.driver.execute(LEFT_OUT, vec![]).await?.convert()?;
        found.extend(left.into_iter().map(|text| format!("{engine}{place}: {text}")));
    }
    ensure!(found.is_empty(), "{}", found.join("\n"));
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_screen_speaks_as_the_united_kingdom_does_where_somebody_chooses_it() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = lead(&browser, &rigore, 1280).await?;
    screen.go(&rigore.url("/calculate/cam-timing")).await?;
    screen.read("[data-test='picture']", "Intake").await?;
    screen.go(&rigore.url("/own")).await?;
    screen.click("select[name='language'] option[value='en-GB']").await?;
    screen.see("html[lang='en-GB'] select[name='language']").await?;
    screen.go(&rigore.url("/calculate/cam-timing")).await?;
    screen.read("[data-test='picture']", "Inlet").await?;
    screen.close().await
}
