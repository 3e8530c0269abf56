//! Figures that a server tells those who watch over it, in the words of `OpenMetrics`.

use prometheus_client::encoding::EncodeLabelSet;
use prometheus_client::metrics::counter::Counter;
use prometheus_client::metrics::family::Family;
use prometheus_client::metrics::gauge::Gauge;
use prometheus_client::metrics::histogram::Histogram;
use prometheus_client::registry::{Registry, Unit};
use std::sync::atomic::AtomicU64;

/// Upper ends of the times that answers are sorted into, seconds.
const TIMES: [f64; 9] = [0.001, 0.0025, 0.005, 0.01, 0.025, 0.1, 0.25, 1.0, 5.0];

#[derive(Debug, Clone, PartialEq, Eq, Hash, EncodeLabelSet)]
pub struct RequestLabels {
    pub method: &'static str,
    pub route: String,
    pub status: u16,
}

#[derive(Debug, Clone, PartialEq, Eq, Hash, EncodeLabelSet)]
pub struct RouteLabel {
    pub route: String,
}

/// The figures.
#[derive(Debug)]
pub struct Metrics {
    pub registry: Registry,
    pub requests: Family<RequestLabels, Counter>,
    pub took: Family<RouteLabel, Histogram>,
    pub streams: Gauge,
    pub connections: Gauge,
    pub idle: Gauge,
    pub waiting: Gauge,
    pub commits: Counter,
    pub commit_seconds: Counter<f64, AtomicU64>,
    pub engines: Gauge,
    pub backup: Gauge,
    pub room: Gauge,
    pub certificate: Gauge,
    pub broken: Gauge,
    pub old_lists: Gauge,
    pub memory: Gauge,
}

impl Default for Metrics {
    fn default() -> Self {
        let mut registry = Registry::with_prefix("rigore");
        let requests = Family::default();
        registry.register("requests", "Requests answered", requests.clone());
        let took = Family::new_with_constructor((|| Histogram::new(TIMES)) as fn() -> Histogram);
        let help = "How long an answer took until its first byte";
        registry.register_with_unit("answer", help, Unit::Seconds, took.clone());
        let gauge = |registry: &mut Registry, name: &str, help: &str| {
            let gauge = Gauge::default();
            registry.register(name, help, gauge.clone());
            gauge
        };
        let streams = gauge(&mut registry, "streams", "Streams of live updates that are held open");
        let connections = gauge(&mut registry, "database_connections", "Connections to the database");
        let idle = gauge(&mut registry, "database_connections_idle", "Those of them that nobody uses now");
        let waiting = gauge(&mut registry, "commands_waiting", "Commands that wait to be written");
        let commits = Counter::default();
        registry.register("commits", "Commits of what was recorded", commits.clone());
        let commit_seconds = Counter::<f64, AtomicU64>::default();
        let help = "How long commits took, together";
        registry.register_with_unit("commit", help, Unit::Seconds, commit_seconds.clone());
        let engines = gauge(&mut registry, "engines_in_memory", "Engines that are kept read in memory");
        let help = "When the last proven backup was made, seconds since 1970; 0 where there is none";
        let backup = gauge(&mut registry, "backup_proven_at", help);
        let help =
            "Bytes that are free on the fullest disk that the shop is kept on; -1 where that is not known";
        let room = gauge(&mut registry, "disk_free_bytes", help);
        let help = "Until when the certificate is good, seconds since 1970; 0 where Rigore shows none";
        let certificate = gauge(&mut registry, "certificate_good_until", help);
        let broken = gauge(&mut registry, "broken_records", "Engines whose record is known to be broken");
        let old_lists = gauge(&mut registry, "lists_to_renew", "Engines that are being listed again");
        let memory = gauge(&mut registry, "process_resident_bytes", "Memory that the process holds");
        Self {
            registry,
            requests,
            took,
            streams,
            connections,
            idle,
            waiting,
            commits,
            commit_seconds,
            engines,
            backup,
            room,
            certificate,
            broken,
            old_lists,
            memory,
        }
    }
}
