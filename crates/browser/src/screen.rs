//! A window in headless Chromium.

use anyhow::{Context, Result, bail};
use serde_json::json;
use std::net::TcpListener;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};
use tempfile::TempDir;
use thirtyfour::error::WebDriverErrorInner;
use thirtyfour::prelude::*;
use thirtyfour::{ChromiumLikeCapabilities, Key};

/// How long something may take to appear.
const PATIENCE: Duration = Duration::from_secs(20);

/// Chromium without a window, of the package `chromium-headless-shell`.
const HEADLESS_SHELL: &str = "/usr/lib/chromium/chromium-headless-shell";

/// A ChromeDriver process. It ends with this.
#[derive(Debug)]
pub struct Browser {
    driver: Child,
    port: u16,
    _folder: TempDir,
}

impl Browser {
    /// Starts ChromeDriver.
    ///
    /// # Errors
    /// Where it is not installed or does not start.
    pub async fn start() -> Result<Self> {
        let port = TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        let folder = tempfile::tempdir()?;
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            // Profiles of its windows are kept there, and go with it.
            .env("TMPDIR", folder.path())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .context("chromedriver is not installed: apt-get install chromium-driver")?;
        let browser = Self { driver, port, _folder: folder };
        let start = Instant::now();
        while start.elapsed() < PATIENCE {
            if reqwest::get(browser.url() + "/status").await.is_ok() {
                return Ok(browser);
            }
            tokio::time::sleep(Duration::from_millis(30)).await;
        }
        bail!("chromedriver did not answer")
    }

    fn url(&self) -> String {
        format!("http://127.0.0.1:{}", self.port)
    }

    /// Opens a window of its own, with its own storage. Its keys are pressed faster than anybody presses them: what
    /// guards against a bounced key is off in it.
    ///
    /// # Errors
    /// Where Chromium does not start.
    pub async fn window(&self, width: u32, height: u32) -> Result<Screen> {
        let screen = self.guarded_window(width, height).await?;
        let script =
            "try { localStorage.setItem('rigore.press-gap', '0') } catch { /* a page without storage */ }";
        let source = json!({ "source": script });
        screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
        Ok(screen)
    }

    /// The same as a person has it, with what guards against a bounced key.
    ///
    /// # Errors
    /// Where Chromium does not start.
    pub async fn guarded_window(&self, width: u32, height: u32) -> Result<Screen> {
        let mut options = DesiredCapabilities::chrome();
        // Debian's own package of Chromium without a window starts in a quarter of the time.
        let headless = if Path::new(HEADLESS_SHELL).exists() {
            options.set_binary(HEADLESS_SHELL)?;
            "--headless"
        } else {
            "--headless=new"
        };
        for argument in [
            headless,
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--disable-dev-shm-usage",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--hide-scrollbars",
            "--force-device-scale-factor=1",
            &format!("--window-size={width},{height}"),
        ] {
            options.add_arg(argument)?;
        }
        let driver = WebDriver::new(self.url(), options).await.context("starting chromium")?;
        let screen = Screen { driver, enters: Arc::new(AtomicBool::new(true)) };
        screen.size(width, height).await?;
        Ok(screen)
    }

    /// The same, of somebody who is not in the demonstration.
    ///
    /// # Errors
    /// Where Chromium does not start.
    pub async fn stranger(&self, width: u32, height: u32) -> Result<Screen> {
        let screen = self.window(width, height).await?;
        screen.enters.store(false, Ordering::Relaxed);
        Ok(screen)
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        // Its windows end with it.
        let _ = self.driver.kill();
        let _ = self.driver.wait();
    }
}

/// A window somebody sits at. Everything waits until what it needs is there.
#[derive(Debug, Clone)]
pub struct Screen {
    /// The session behind it.
    pub driver: WebDriver,
    /// Whether it enters the demonstration where it goes next.
    enters: Arc<AtomicBool>,
}

impl Screen {
    /// Makes the page exactly this large.
    ///
    /// # Errors
    /// Where the browser is gone.
    pub async fn size(&self, width: u32, height: u32) -> Result<()> {
        let metrics = serde_json::json!({
            "width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 600
        });
        self.driver.cdp().send_raw("Emulation.setDeviceMetricsOverride", metrics).await?;
        Ok(())
    }

    /// Goes to an address; the first time, as bench one of the demonstration.
    ///
    /// # Errors
    /// Where the browser is gone.
    pub async fn go(&self, url: &str) -> Result<()> {
        if self.enters.swap(false, Ordering::Relaxed) {
            self.sign_over(url, "bench-one").await?;
        }
        Ok(self.driver.goto(url).await?)
    }

    /// Somebody else of the demonstration is signed in in this browser, and the page has not heard of it.
    ///
    /// # Errors
    /// Where the browser is gone.
    pub async fn sign_over(&self, url: &str, person: &str) -> Result<()> {
        let value = format!("demonstration.{person}");
        let cookie = serde_json::json!({ "name": "rigore", "value": value, "url": url, "httpOnly": true });
        self.driver.cdp().send_raw("Network.setCookie", cookie).await?;
        Ok(())
    }

    /// Has somebody else of the demonstration at work.
    ///
    /// # Errors
    /// Where the page has no such person.
    pub async fn enter_as(&self, person: &str) -> Result<()> {
        self.click("[data-test='at-work']").await?;
        self.click(&format!("[data-test='person-{person}']")).await?;
        self.see(&format!("[data-test='at-work'][data-person='{person}']")).await?;
        self.count("[role='dialog']", 0).await
    }

    /// The first element that matches, once it is there.
    ///
    /// # Errors
    /// Where it does not appear.
    pub async fn see(&self, css: &str) -> Result<WebElement> {
        let query = self.driver.query(By::Css(css)).wait(PATIENCE, Duration::from_millis(30));
        match query.first().await {
            Ok(element) => Ok(element),
            Err(error) => bail!("waiting for {css}: {error}\n{}", self.page().await),
        }
    }

    /// What the page says, to be shown where something is missing on it.
    async fn page(&self) -> String {
        let script =
            "return document.body.innerText + '\\nfocus: ' + document.activeElement.outerHTML.slice(0, 200)";
        match self.driver.execute(script, vec![]).await {
            Ok(text) => text.json().as_str().unwrap_or_default().to_owned(),
            Err(error) => error.to_string(),
        }
    }

    /// Waits until an element's text holds a text.
    ///
    /// # Errors
    /// Where it does not come to that; says what was there instead.
    pub async fn read(&self, css: &str, text: &str) -> Result<()> {
        let start = Instant::now();
        let mut last = String::new();
        while start.elapsed() < PATIENCE {
            if let Ok(element) = self.driver.find(By::Css(css)).await
                && let Ok(found) = element.text().await
            {
                if found.contains(text) {
                    return Ok(());
                }
                last = found;
            }
            tokio::time::sleep(Duration::from_millis(30)).await;
        }
        bail!("{css} never read `{text}`, but `{last}`")
    }

    /// Waits until so many elements match.
    ///
    /// # Errors
    /// Where it does not come to that.
    pub async fn count(&self, css: &str, wanted: usize) -> Result<()> {
        let start = Instant::now();
        let mut found = 0;
        while start.elapsed() < PATIENCE {
            found = self.driver.find_all(By::Css(css)).await.map_or(0, |all| all.len());
            if found == wanted {
                return Ok(());
            }
            tokio::time::sleep(Duration::from_millis(30)).await;
        }
        bail!("{wanted} of {css} wanted, {found} there")
    }

    /// Clicks the first element that matches, once it can be clicked.
    ///
    /// # Errors
    /// Where it does not appear or stays covered.
    pub async fn click(&self, css: &str) -> Result<()> {
        let query = self.driver.query(By::Css(css)).wait(PATIENCE, Duration::from_millis(30));
        let element =
            query.and_clickable().first().await.with_context(|| format!("waiting to click {css}"))?;
        Ok(element.click().await?)
    }

    /// Clicks two elements so soon after each other that what the first one sends is not answered yet.
    ///
    /// # Errors
    /// Where one of them is not there.
    pub async fn click_both(&self, first: &str, second: &str) -> Result<()> {
        let click = "for (const css of arguments)
            document.querySelector(css).dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }))";
        self.driver.execute(click, vec![json!(first), json!(second)]).await?;
        Ok(())
    }

    /// Chooses another of what a field offers.
    ///
    /// # Errors
    /// When it offers no such thing.
    pub async fn choose(&self, css: &str, value: &str) -> Result<()> {
        self.see(css).await?;
        let script = "const of = document.querySelector(arguments[0]); of.value = arguments[1]; \
            of.dispatchEvent(new Event('change', { bubbles: true })); return of.value";
        let now = self.driver.execute(script, vec![css.into(), value.into()]).await?;
        if now.json().as_str() != Some(value) {
            bail!("{css} has no {value}");
        }
        Ok(())
    }

    /// Brings something to the middle of the window, clear of the head of the page.
    ///
    /// # Errors
    /// When it does not appear.
    pub async fn reach(&self, css: &str) -> Result<()> {
        self.see(css).await?;
        let script = "document.querySelector(arguments[0]).scrollIntoView({ block: 'center' })";
        self.driver.execute(script, vec![css.into()]).await?;
        Ok(())
    }

    /// Types into a field, over what stands in it.
    ///
    /// # Errors
    /// Where the field is not there, or cannot be typed into; names it.
    pub async fn fill(&self, css: &str, text: &str) -> Result<()> {
        until_ready(|| self.fill_once(css, text)).await.with_context(|| format!("filling {css}"))
    }

    async fn fill_once(&self, css: &str, text: &str) -> Result<()> {
        let field = self.see(css).await?;
        field.scroll_into_view().await?;
        field.click().await?;
        // Typed over as somebody does: what a driver clears is not heard of by the page until the next key.
        field.send_keys(Key::Control + "a").await?;
        Ok(field.send_keys(text).await?)
    }

    /// Types into whatever has the focus, as a keyboard or a gauge that types would.
    ///
    /// # Errors
    /// Where nothing has the focus.
    pub async fn keys(&self, text: &str) -> Result<()> {
        let type_text = async || Ok(self.driver.active_element().await?.send_keys(text).await?);
        until_ready(type_text).await.with_context(|| format!("typing {text:?}"))
    }

    /// Selects all text where the focus is, so that what is typed next takes its place.
    ///
    /// # Errors
    /// Where nothing has the focus.
    pub async fn select_all(&self) -> Result<()> {
        Ok(self.driver.active_element().await?.send_keys(Key::Control + "a").await?)
    }

    /// Types a line and Enter.
    ///
    /// # Errors
    /// Where nothing has the focus.
    pub async fn line(&self, text: &str) -> Result<()> {
        self.keys(&format!("{text}{}", char::from(Key::Enter))).await
    }

    /// Gives a reason in the dialog that is open.
    ///
    /// # Errors
    /// Where no dialog asks for one.
    pub async fn reason(&self, text: &str) -> Result<()> {
        self.see("#reason").await?.send_keys(text).await?;
        self.click("[role='dialog'] button[type='submit']").await
    }

    /// Takes a picture.
    ///
    /// # Errors
    /// Where it cannot be written.
    pub async fn picture(&self, file: &Path) -> Result<()> {
        Ok(self.driver.screenshot(file).await?)
    }

    /// Closes the window.
    ///
    /// # Errors
    /// Where the browser is gone.
    pub async fn close(self) -> Result<()> {
        Ok(self.driver.quit().await?)
    }
}

/// Does something again for as long as a page that is still being drawn refuses it.
async fn until_ready(press: impl AsyncFn() -> Result<()>) -> Result<()> {
    let start = Instant::now();
    loop {
        match press().await {
            Err(error) if is_unready(&error) && start.elapsed() < PATIENCE => {
                tokio::time::sleep(Duration::from_millis(50)).await;
            }
            pressed => return pressed,
        }
    }
}

/// Whether a page that is still being drawn refused a key or a click: an element that a newer one has just replaced, or
/// one under a dialog that is opening. Nothing was pressed then.
fn is_unready(error: &anyhow::Error) -> bool {
    let Some(error) = error.downcast_ref::<WebDriverError>() else { return false };
    matches!(
        **error,
        WebDriverErrorInner::StaleElementReference(_)
            | WebDriverErrorInner::ElementNotInteractable(_)
            | WebDriverErrorInner::ElementClickIntercepted(_)
    )
}
