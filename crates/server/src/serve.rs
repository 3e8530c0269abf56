//! Listening, and serving until the server is asked to end.

use crate::connections::{ConnectionLimit, OF_ONE_ADDRESS};
use crate::router::router;
use crate::{App, metrics_routes};
use axum::Router;
use axum_server::Handle;
use axum_server::tls_rustls::{RustlsAcceptor, RustlsConfig};
use std::io;
use std::net::{SocketAddr, TcpListener};
use std::path::Path;
use std::time::Duration;

/// How long a browser may take to send the head of a request.
const HEAD: Duration = Duration::from_secs(10);
/// How long requests in hand may take once the server is asked to end.
const AT_THE_END: Duration = Duration::from_secs(10);

/// Where a server listens.
#[derive(Debug)]
pub struct Socket {
    listener: TcpListener,
    tls: Option<RustlsConfig>,
}

impl Socket {
    /// Listens at an address, by TLS where a certificate and its key are given.
    ///
    /// # Errors
    /// Where somebody else listens there, or the certificate or key cannot be read.
    pub async fn bind(listen: SocketAddr, tls: Option<(&Path, &Path)>) -> io::Result<Self> {
        let listener = TcpListener::bind(listen)?;
        listener.set_nonblocking(true)?;
        let tls = match tls {
            Some((certificate, key)) => Some(RustlsConfig::from_pem_file(certificate, key).await?),
            None => None,
        };
        Ok(Self { listener, tls })
    }

    /// Its address, as a browser is given it.
    ///
    /// # Errors
    /// Where the system does not tell.
    pub fn url(&self) -> io::Result<String> {
        let scheme = if self.tls.is_some() { "https" } else { "http" };
        Ok(format!("{scheme}://{}", self.listener.local_addr()?))
    }

    /// What reads a certificate again that has become another.
    pub fn tls(&self) -> Option<RustlsConfig> {
        self.tls.clone()
    }

    async fn serve(
        self,
        routes: Router,
        limit: ConnectionLimit,
        handle: Handle<SocketAddr>,
    ) -> io::Result<()> {
        let service = routes.into_make_service_with_connect_info::<SocketAddr>();
        let mut server = axum_server::from_tcp(self.listener)?.handle(handle).first_request_timeout(HEAD);
        server.http_builder().http1().header_read_timeout(HEAD);
        match self.tls {
            Some(tls) => server.acceptor(RustlsAcceptor::new(tls).acceptor(limit)).serve(service).await,
            None => server.acceptor(limit).serve(service).await,
        }
    }
}

/// Serves until asked to end; requests in hand are finished first.
///
/// # Errors
/// Where the socket fails.
pub async fn serve(
    socket: Socket,
    app: App,
    end: impl Future<Output = ()> + Send + 'static,
) -> io::Result<()> {
    let (ending, store, handle) = (app.ending.clone(), app.store.clone(), Handle::new());
    let ended = handle.clone();
    tokio::spawn(async move {
        end.await;
        tracing::info!("ending");
        ending.send_replace(true);
        ended.graceful_shutdown(Some(AT_THE_END));
    });
    let limit = ConnectionLimit::new(OF_ONE_ADDRESS, &app.settings.trusted);
    socket.serve(router(app), limit, handle).await?;
    store.close().await;
    Ok(())
}

/// Tells those who watch over a server how it is, until it ends.
///
/// # Errors
/// Where the socket fails.
pub async fn serve_metrics(socket: Socket, app: App) -> io::Result<()> {
    let (mut ending, handle) = (app.ending.subscribe(), Handle::new());
    let ended = handle.clone();
    tokio::spawn(async move {
        // An error says that nobody is left to say it.
        let _ = ending.changed().await;
        ended.graceful_shutdown(Some(AT_THE_END));
    });
    let limit = ConnectionLimit::new(OF_ONE_ADDRESS, &app.settings.trusted);
    socket.serve(metrics_routes::router(app), limit, handle).await
}
