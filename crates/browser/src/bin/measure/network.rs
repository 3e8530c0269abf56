//! Bad networks: eight benches in a browser record over a link that is cut, falls silent, delays, splits, repeats and
//! reorders what goes over it, both between browser and server and between server and database.

use crate::table::{Aim, ResultTable, percentile};
use anyhow::{Context, Result, ensure};
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rigore_assembly::{Event, Fact};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_plan::Plan;
use rigore_store::Store;
use rigore_store::cluster::Cluster;
use serde_json::json;
use std::net::SocketAddr;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::{Duration, Instant};
use tokio::io::{AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream, UnixStream};
use tokio::sync::watch;
use tokio::task::{AbortHandle, JoinHandle};
use tokio::time::{sleep, timeout};
use uuid::Uuid;

/// Benches, each on an engine of its own.
const BENCHES: usize = 8;
/// Bolts of their joint, and its stages: more than anybody pulls in the time.
const BOLTS: usize = 150;
const STAGES: usize = 8;
/// How long a bench may say nothing of what is not recorded.
const TOLD: Duration = Duration::from_millis(3500);
/// How long the last of what was typed may take at the end.
const LAST: Duration = Duration::from_secs(60);
const LOOK: Duration = Duration::from_millis(60);
/// The longest head and body that are sent twice.
const LONGEST: usize = 64 * 1024;

/// What a link does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum LinkState {
    /// All goes through.
    Clear,
    /// Every connection ends, and none is let in.
    Cut,
    /// Nothing goes through, and nobody is told.
    Silent,
    /// Each piece waits a while of its own, so that connections overtake each other.
    Slow,
    /// Everything comes in pieces of a few bytes.
    Split,
    /// Whatever is sent to be recorded arrives twice, the second time by a connection of its own.
    Twice,
}

/// Where a link leads.
#[derive(Debug, Clone)]
enum Target {
    Address(SocketAddr),
    Socket(PathBuf),
}

trait Stream: AsyncRead + AsyncWrite + Send + Unpin {}
impl<T: AsyncRead + AsyncWrite + Send + Unpin> Stream for T {}

impl Target {
    async fn connect(&self) -> std::io::Result<Box<dyn Stream>> {
        Ok(match self {
            Self::Address(address) => {
                let stream = TcpStream::connect(address).await?;
                stream.set_nodelay(true)?;
                Box::new(stream)
            }
            Self::Socket(path) => Box::new(UnixStream::connect(path).await?),
        })
    }
}

/// A link on loopback that lets everything through, or does not. It ends with this.
struct Link {
    at: SocketAddr,
    state: watch::Sender<LinkState>,
    task: AbortHandle,
}

impl Link {
    async fn to(target: Target) -> Result<Self> {
        let listener = TcpListener::bind("127.0.0.1:0").await?;
        let at = listener.local_addr()?;
        let (state, told) = watch::channel(LinkState::Clear);
        let task = tokio::spawn(async move {
            for seed in 0.. {
                let Ok((stream, _)) = listener.accept().await else { return };
                if *told.borrow() == LinkState::Cut {
                    continue;
                }
                // Pieces are to arrive as they are sent.
                let _ = stream.set_nodelay(true);
                tokio::spawn(carry(stream, target.clone(), told.clone(), seed));
            }
        });
        Ok(Self { at, state, task: task.abort_handle() })
    }
}

impl Drop for Link {
    fn drop(&mut self) {
        self.task.abort();
    }
}

/// Carries one connection until one of its ends, or the link, ends it.
async fn carry(from: TcpStream, target: Target, state: watch::Receiver<LinkState>, seed: u64) {
    let random = |direction| StdRng::seed_from_u64(2 * seed + direction);
    let Ok(to) = target.connect().await else { return };
    let (near_read, near_write) = tokio::io::split(from);
    let (far_read, far_write) = tokio::io::split(to);
    let mut cut = state.clone();
    tokio::select! {
        () = pump(near_read, far_write, (state.clone(), random(0)), Some(&target)) => {}
        () = pump(far_read, near_write, (state, random(1)), None) => {}
        _ = cut.wait_for(|state| *state == LinkState::Cut) => {}
    }
}

/// Carries one direction.
async fn pump(
    mut from: impl AsyncRead + Unpin,
    mut to: impl AsyncWrite + Unpin,
    (mut state, mut random): (watch::Receiver<LinkState>, StdRng),
    again: Option<&Target>,
) {
    let mut piece = vec![0; 16 * 1024];
    loop {
        let Ok(read @ 1..) = from.read(&mut piece).await else { return };
        let mut bytes = piece[..read].to_vec();
        let now = *state.borrow();
        if now == LinkState::Silent && state.wait_for(|state| *state != LinkState::Silent).await.is_err() {
            return;
        }
        if now == LinkState::Twice
            && let Some(target) = again
            && bytes.starts_with(b"POST ")
        {
            // All of it is there before it goes on its way.
            while !is_whole(&bytes) && bytes.len() < LONGEST {
                let Ok(read @ 1..) = from.read(&mut piece).await else { return };
                bytes.extend_from_slice(&piece[..read]);
            }
            let first = random.random::<bool>();
            let twin = tokio::spawn(send_apart(target.clone(), bytes.clone()));
            if first {
                // The copy is there before the one that is waited for.
                let _ = twin.await;
            }
        }
        if now == LinkState::Slow {
            sleep(Duration::from_millis(random.random_range(20..600))).await;
        }
        let size = if now == LinkState::Split { random.random_range(1..40) } else { bytes.len() };
        for part in bytes.chunks(size) {
            if to.write_all(part).await.is_err() || to.flush().await.is_err() {
                return;
            }
            if now == LinkState::Split {
                tokio::task::yield_now().await;
            }
        }
    }
}

/// Whether a request is there to its end.
fn is_whole(bytes: &[u8]) -> bool {
    let text = String::from_utf8_lossy(bytes);
    let Some((head, body)) = text.split_once("\r\n\r\n") else { return false };
    let length = head.lines().find_map(|line| {
        let (name, value) = line.split_once(':')?;
        name.eq_ignore_ascii_case("content-length").then(|| value.trim().parse::<usize>().ok())?
    });
    body.len() >= length.unwrap_or(0)
}

/// Sends bytes by a connection of their own and waits for an answer that nobody reads.
async fn send_apart(target: Target, bytes: Vec<u8>) {
    if let Ok(mut stream) = target.connect().await
        && stream.write_all(&bytes).await.is_ok()
    {
        let mut answer = [0; 1024];
        let _ = timeout(Duration::from_secs(2), stream.read(&mut answer)).await;
    }
}

/// Disturbs both links until the end; gives when each cut was over, and every disturbance.
async fn disturb(links: Arc<[Link; 2]>, end: Instant) -> (Vec<Instant>, Vec<(usize, LinkState)>) {
    let mut random = StdRng::seed_from_u64(20);
    let (mut cuts, mut all) = (Vec::new(), Vec::new());
    while Instant::now() < end {
        let which = random.random_range(0..links.len());
        let state = match random.random_range(0..6) {
            0 | 1 => LinkState::Cut,
            2 => LinkState::Silent,
            3 => LinkState::Slow,
            4 => LinkState::Split,
            _ => LinkState::Twice,
        };
        let lasts = Duration::from_millis(random.random_range(300..5000));
        links[which].state.send_replace(state);
        all.push((which, state));
        sleep(lasts).await;
        links[which].state.send_replace(LinkState::Clear);
        if state == LinkState::Cut {
            cuts.push(Instant::now());
        }
        sleep(Duration::from_millis(random.random_range(4000..9000))).await;
    }
    (cuts, all)
}

/// What a bench was like.
#[derive(Debug, Default)]
struct BenchLog {
    /// What was typed, in order.
    typed: Vec<String>,
    /// When each was typed, and when it was recorded.
    times: Vec<(Instant, Instant)>,
    /// How often something waited for too long, and the bench said nothing of it.
    untold: usize,
    /// How often it waited for too long at all.
    late: usize,
    /// How often Enter had to be pressed again.
    again: usize,
}

/// What a bench shows.
#[derive(Debug)]
struct BenchState {
    /// How much was sent and is not answered.
    waits: u64,
    /// Whether it said so since something was typed.
    told: bool,
    /// What is in the field of the reading, where that is there.
    field: Option<String>,
    /// What is said of it.
    said: String,
}

/// Has the page note by itself whether it says that something is not recorded: however rarely it is looked at.
const NOTE: &str = "const look = () =>
        (window.told ||= !!document.querySelector(\"[data-test='not-recorded'], [data-test='away']\"))
    new MutationObserver(look).observe(document, { childList: true, subtree: true })
    window.type = () => { window.told = false; look() }";
const SHOWS: &str = "return [
    JSON.parse(localStorage.getItem('rigore.outbox') ?? '[]').length,
    !!window.told,
    document.querySelector('[role=dialog]') ? null : document.querySelector(\"input[name='reading']\")?.value ?? null,
    [...document.querySelectorAll('main [role=alert]')].map((of) => of.innerText).join(' '),
]";

async fn shows(screen: &Screen) -> Result<BenchState> {
    let shown = screen.driver.execute(SHOWS, vec![]).await?;
    let shown = shown.json();
    Ok(BenchState {
        waits: shown[0].as_u64().context("how much waits")?,
        told: shown[1].as_bool().unwrap_or_default(),
        field: shown[2].as_str().map(str::to_owned),
        said: shown[3].as_str().unwrap_or_default().to_owned(),
    })
}

/// Types one reading after the other, each once the one before is recorded and its field is empty again.
async fn work(screen: Screen, end: Instant) -> Result<(Screen, BenchLog)> {
    let mut watched = BenchLog::default();
    while Instant::now() < end {
        let shown = shows(&screen).await?;
        if shown.waits > 0 || shown.field.as_deref() != Some("") {
            sleep(LOOK).await;
            continue;
        }
        let reading = format!("{:.2}", 21.5 + f64::from(u32::try_from(watched.typed.len() % 100)?) / 100.0);
        let field = screen.see("input[name='reading']").await?;
        screen.driver.execute("window.type()", vec![]).await?;
        // What is redrawn at this moment is tried again.
        if field.send_keys(format!("{reading}\u{e007}")).await.is_err() {
            continue;
        }
        watched.typed.push(reading.clone());
        recorded_at_last(&screen, &reading, &mut watched).await?;
    }
    Ok((screen, watched))
}

/// Waits until what was typed is recorded. Where it stands in its field again, Enter sends it once more.
async fn recorded_at_last(screen: &Screen, reading: &str, watched: &mut BenchLog) -> Result<()> {
    let typed = Instant::now();
    let mut is_told = false;
    loop {
        let shown = shows(screen).await?;
        is_told |= shown.told;
        ensure!(typed.elapsed() < LAST, "{reading} is not recorded: {shown:?}");
        match shown.field.as_deref() {
            Some("") if shown.waits == 0 => break,
            Some(field) if shown.waits == 0 => {
                eprintln!("({field} is in its field still: {})", shown.said);
                watched.again += 1;
                screen.see("input[name='reading']").await?.send_keys("\u{e007}").await?;
            }
            _ => {}
        }
        sleep(LOOK).await;
    }
    watched.times.push((typed, Instant::now()));
    if typed.elapsed() > TOLD {
        watched.late += 1;
        watched.untold += usize::from(!is_told);
    }
    Ok(())
}

/// A plan of one joint with many bolts, pulled again and again to the same torque.
fn plan() -> String {
    let bolts: Vec<String> =
        (1..=BOLTS).map(|bolt| format!("{{ id = \"{bolt}\", at = [{}, 0] }}", 20 * bolt)).collect();
    let stage =
        "[[joint.stage]]\nname = \"Round\"\ngroup = \"all\"\ntorque = \"22 N·m\"\ntolerance = \"2 N·m\"\n";
    format!(
        "format = 1\nid = \"rail\"\nname = \"Rail\"\n\
         [[fastener]]\nid = \"bolt\"\nname = \"Bolt\"\nthread = \"M8x1.25\"\nstrength = \"8.8\"\n\
         thread_lubricant = \"engine-oil\"\nbearing_lubricant = \"engine-oil\"\n\
         [[drawing]]\nid = \"rail\"\nname = \"Rail\"\nshape = [{{ kind = \"rect\", from = [0, -10], to = [3020, 10] }}]\n\
         [[joint]]\nid = \"rail\"\nname = \"Rail\"\ndrawing = \"rail\"\n\
         [[joint.group]]\nid = \"all\"\nname = \"bolt\"\nfastener = \"bolt\"\npattern = \"line\"\nposition = [{}]\n{}\
         [[operation]]\nid = \"tighten-rail\"\nname = \"Tighten the rail\"\nkind = \"tighten\"\njoint = \"rail\"\n",
        bolts.join(", "),
        stage.repeat(STAGES)
    )
}

/// Measures it for so many minutes.
pub async fn measure(table: &mut ResultTable, minutes: u64) -> Result<()> {
    let folder = tempfile::Builder::new().prefix("rigore-network").tempdir()?;
    let cluster = Cluster::start(folder.path())?;
    // The demonstration is loaded before links are disturbed.
    drop(Rigore::start(&cluster.url()).await?);
    let socket = folder.path().join("socket/.s.PGSQL.5432");
    let database = Link::to(Target::Socket(socket)).await?;
    let url = format!("postgres://rigore@127.0.0.1:{}/postgres", database.at.port());
    let rigore = Rigore::start(&url).await?;
    let server: SocketAddr = rigore.url("").trim_start_matches("http://").parse()?;
    let browser = Link::to(Target::Address(server)).await?;
    let address = format!("http://{}", browser.at);
    let links = Arc::new([browser, database]);

    let store = Store::connect(&cluster.url(), 2).await?;
    let engines = begin(&rigore, &store).await?;
    let chromium = Browser::start().await?;
    let mut screens = Vec::new();
    for engine in &engines {
        let screen = chromium.window(1280, 800).await?;
        screen.go(&format!("{address}/engines/{engine}/bench/tighten-rail")).await?;
        screen.click("select[name='instrument'] option[value='wrench-2']").await?;
        screen.driver.execute(NOTE, vec![]).await?;
        screens.push(screen);
    }
    let end = Instant::now() + Duration::from_secs(60 * minutes);
    let work: Vec<JoinHandle<Result<(Screen, BenchLog)>>> =
        screens.into_iter().map(|screen| tokio::spawn(work(screen, end))).collect();
    let (cuts, state) = disturb(Arc::clone(&links), end).await;
    let mut benches = Vec::new();
    for bench in work {
        let (screen, watched) = bench.await??;
        benches.push(watched);
        screen.close().await?;
    }
    let (mut lost, mut more) = (0, 0);
    for (engine, bench) in engines.iter().zip(&benches) {
        let recorded = recorded(&store, *engine).await?;
        lost += bench.typed.len().saturating_sub(recorded.len());
        more += recorded.len().saturating_sub(bench.typed.len());
        ensure!(recorded == bench.typed, "{engine}: {:?} typed, {recorded:?} recorded", bench.typed);
    }
    let of = |wanted: LinkState| count(state.iter().filter(|(_, is)| *is == wanted).count());
    table.row("minutes of bad networks", count(usize::try_from(minutes)?), Aim::Told);
    for (name, wanted) in [
        ("  cut", LinkState::Cut),
        ("  silent", LinkState::Silent),
        ("  slow, out of order", LinkState::Slow),
        ("  in pieces", LinkState::Split),
        ("  twice", LinkState::Twice),
    ] {
        table.row(name, of(wanted), Aim::Told);
    }
    let typed: usize = benches.iter().map(|bench| bench.typed.len()).sum();
    table.row("readings typed at eight benches", count(typed), Aim::AtLeast(100.0));
    table.row("  lost", count(lost), Aim::AtMost(0.0));
    table.row("  recorded more than once", count(more), Aim::AtMost(0.0));
    table.row("Enter pressed again", count(benches.iter().map(|of| of.again).sum()), Aim::Told);
    table.row("waited longer than 3.5 s", count(benches.iter().map(|of| of.late).sum()), Aim::Told);
    table.row(
        "  of which the bench said nothing",
        count(benches.iter().map(|of| of.untold).sum()),
        Aim::AtMost(0.0),
    );
    let times = || benches.iter().flat_map(|bench| &bench.times);
    // What was typed before a cut was over and recorded after it.
    let waited = cuts.iter().flat_map(|cut| {
        times()
            .filter(move |(typed, recorded)| typed < cut && recorded > cut)
            .map(|(_, recorded)| (*recorded - *cut).as_secs_f64())
    });
    let mut waited: Vec<f64> = waited.collect();
    table.row("readings that waited for the end of a cut", count(waited.len()), Aim::AtLeast(10.0));
    table.row("  recorded after its end, p95, s", percentile(&mut waited, 95), Aim::AtMost(5.0));
    table.row("  the last of them, s", percentile(&mut waited, 100), Aim::Told);
    Ok(())
}

/// Begins an engine for each bench.
async fn begin(rigore: &Rigore, store: &Store) -> Result<Vec<Uuid>> {
    let source = plan();
    let read = Plan::read("rail.toml", &source).map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    let hash = store.add_plan(&source, &read).await?.hash;
    let client = rigore_browser::client();
    let mut engines = Vec::new();
    for bench in 1..=BENCHES {
        let id = Uuid::now_v7();
        let body = json!({ "id": id, "name": format!("Rail {bench}"), "plan": hash });
        client.post(rigore.url("/api/builds")).json(&body).send().await?.error_for_status()?;
        engines.push(id);
    }
    Ok(engines)
}

/// What is recorded of an engine's pulls, as it was typed.
async fn recorded(store: &Store, engine: Uuid) -> Result<Vec<String>> {
    let pulled = |event: Event| match event.fact {
        Fact::Pulled(pulled) => pulled.reading.torque_nm.map(|torque| format!("{torque:.2}")),
        _ => None,
    };
    Ok(store.events(engine).await?.into_iter().filter_map(pulled).collect())
}

#[expect(clippy::cast_precision_loss, reason = "a count of readings")]
fn count(of: usize) -> f64 {
    of as f64
}
