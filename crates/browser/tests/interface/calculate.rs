//! The calculations at a place of their own: no engine needed.

use anyhow::{Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;

async fn type_into(screen: &Screen, field: &str, text: &str) -> Result<()> {
    screen.fill(&format!("[name='{field}']"), text).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_calculation_is_live_and_its_address_can_be_kept() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/calculate")).await?;
    screen.click("a[href='/calculate/adapter']").await?;
    screen.read("[data-test='setting_nm']", "82.69").await?;
    type_into(&screen, "angle_deg", "180").await?;
    screen.read("[data-test='setting_nm']", "102.86").await?;
    // What cannot be is said at its field, and what was typed stays.
    type_into(&screen, "adapter_mm", "fifty").await?;
    screen.read("label:has([name='adapter_mm'])", "number").await?;
    type_into(&screen, "adapter_mm", "40").await?;
    screen.read("[data-test='setting_nm']", "100").await?;
    let kept = screen.driver.current_url().await?.to_string();
    screen.go(&rigore.url("/")).await?;
    screen.go(&kept).await?;
    screen.read("[data-test='setting_nm']", "100").await?;
    // Rows are added; a list is typed with spaces.
    screen.go(&rigore.url("/calculate/nut-factor")).await?;
    screen.read("[data-test='torque_nm']", "62.66").await?;
    ensure!(screen.driver.find_all(thirtyfour::By::Css("fieldset input")).await?.len() == 6, "three pairs");
    // An address that holds something else is no reason to show nothing.
    for odd in ["null", "%7B%22pairs%22:5%7D", "%7B%22pairs%22:%5Bnull%5D%7D", "%7B"] {
        screen.go(&rigore.url(&format!("/calculate/nut-factor?with={odd}"))).await?;
        screen.see("fieldset [name='pairs[0].torque_nm']").await?;
    }
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_procedure_is_read_while_it_is_typed() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    screen.go(&rigore.url("/calculate/procedure")).await?;
    screen.read("[data-test='canonical']", "30 N·m, 60 N·m, 90 N·m, 60°, centre out").await?;
    type_into(&screen, "text", "inner: 25 lbf·ft snug, then a quarter turn; side: 23 Nm").await?;
    screen.read("[data-test='canonical']", "inner: 25 lbf·ft snug, 90°; side: 23 N·m").await?;
    type_into(&screen, "text", "30,60 N·m").await?;
    screen.read("label:has([name='text'])", "can be 30, then 60, or 30.6").await?;
    type_into(&screen, "text", "30, 60 N·m").await?;
    screen.read("[data-test='canonical']", "30 N·m, 60 N·m").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn degrees_fahrenheit_are_turned_with_their_offset_and_every_new_calculation_is_drawn() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url("/calculate/temperature-correction")).await?;
    screen.click("[name='temperature_c unit'] option:nth-child(2)").await?;
    // What was there means the same in the other unit.
    let field = screen.see("[name='temperature_c']").await?;
    ensure!(field.value().await?.as_deref() == Some("82.4"), "28 °C are {:?} °F", field.value().await?);
    screen.read("[data-test='correction_mm']", "-0.0151").await?;
    type_into(&screen, "temperature_c", "68").await?;
    screen.read("[data-test='correction_mm']", "0").await?;
    type_into(&screen, "temperature_c", "warm").await?;
    screen.read("label:has([name='temperature_c'])", "does not start with a number").await?;
    for (name, result, shows) in [
        ("working-load", "clamp_kn", "31.58"),
        ("thermal-load", "change_kn", "11.04"),
        ("rod-bolt-load", "per_bolt_kn", "15.3"),
        ("embedding", "loss_kn", "1.517"),
        ("surface-pressure", "under_washer_mpa", "228.1"),
        ("piston-position", "below_top_mm", "39.55"),
        ("cam-timing", "separation_deg", "111"),
        ("valve-clearance", "least_mm", "2.407"),
        ("lash-shim", "shim_mm", "2.67"),
        ("ring-clocking", "clear_deg", "15"),
    ] {
        screen.go(&rigore.url(&format!("/calculate/{name}"))).await?;
        screen.read(&format!("[data-test='{result}']"), shows).await?;
        screen.see("[data-test='picture']").await?;
    }
    screen.close().await
}
