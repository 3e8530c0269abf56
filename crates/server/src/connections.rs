//! How many connections one address may hold open: a server that anybody can fill serves nobody.

use axum_server::accept::Accept;
use std::collections::HashMap;
use std::future::{Ready, ready};
use std::io;
use std::net::IpAddr;
use std::pin::Pin;
use std::sync::{Arc, Mutex, PoisonError};
use std::task::{Context, Poll};
use tokio::io::{AsyncRead, AsyncWrite, ReadBuf};
use tokio::net::TcpStream;

use crate::trusted_proxy::TrustedProxy;

/// Connections that one address may hold open at once. A browser has six.
pub const OF_ONE_ADDRESS: usize = 256;

type Open = Arc<Mutex<HashMap<IpAddr, usize>>>;

/// Accepts connections as long as their address does not hold too many open; a trusted proxy may hold any number.
#[derive(Debug, Clone)]
pub struct ConnectionLimit {
    open: Open,
    most: usize,
    trusted: Arc<[TrustedProxy]>,
}

impl ConnectionLimit {
    /// At most so many connections of one address.
    pub fn new(most: usize, trusted: &[TrustedProxy]) -> Self {
        Self { open: Open::default(), most, trusted: trusted.into() }
    }

    /// Counts one more connection of an address; `None` where it holds as many as it may.
    fn open_one(&self, address: IpAddr) -> Option<OpenConnection> {
        let mut open = self.open.lock().unwrap_or_else(PoisonError::into_inner);
        let count = open.entry(address).or_default();
        if *count >= self.most && !self.trusted.iter().any(|of| of.contains(address)) {
            return None;
        }
        *count += 1;
        Some(OpenConnection { open: Arc::clone(&self.open), address })
    }
}

/// A connection that is counted until it is dropped.
#[derive(Debug)]
struct OpenConnection {
    open: Open,
    address: IpAddr,
}

impl Drop for OpenConnection {
    fn drop(&mut self) {
        let mut open = self.open.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(count) = open.get_mut(&self.address) {
            *count -= 1;
            if *count == 0 {
                open.remove(&self.address);
            }
        }
    }
}

impl<S> Accept<TcpStream, S> for ConnectionLimit {
    type Stream = CountedStream;
    type Service = S;
    type Future = Ready<io::Result<(CountedStream, S)>>;

    fn accept(&self, stream: TcpStream, service: S) -> Self::Future {
        let accepted = || {
            stream.set_nodelay(true)?;
            let address = stream.peer_addr()?.ip().to_canonical();
            let counted = self.open_one(address);
            counted.ok_or_else(|| io::Error::other(format!("{address} holds too many connections open")))
        };
        ready(accepted().map(|counted| (CountedStream { stream, _connection: counted }, service)))
    }
}

/// A stream whose connection is counted.
#[derive(Debug)]
pub struct CountedStream {
    stream: TcpStream,
    _connection: OpenConnection,
}

impl AsyncRead for CountedStream {
    fn poll_read(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
        buffer: &mut ReadBuf<'_>,
    ) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_read(context, buffer)
    }
}

impl AsyncWrite for CountedStream {
    fn poll_write(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
        bytes: &[u8],
    ) -> Poll<io::Result<usize>> {
        Pin::new(&mut self.stream).poll_write(context, bytes)
    }

    fn poll_flush(mut self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_flush(context)
    }

    fn poll_shutdown(mut self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_shutdown(context)
    }

    fn poll_write_vectored(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
        slices: &[io::IoSlice<'_>],
    ) -> Poll<io::Result<usize>> {
        Pin::new(&mut self.stream).poll_write_vectored(context, slices)
    }

    fn is_write_vectored(&self) -> bool {
        self.stream.is_write_vectored()
    }
}

#[cfg(test)]
mod tests {
    use super::ConnectionLimit;

    #[test]
    fn one_address_may_hold_so_many_and_a_trusted_proxy_any_number() {
        let limit = ConnectionLimit::new(2, &["192.0.2.9".parse().expect("an address")]);
        let (one, proxy) = ("192.0.2.1".parse().expect("it is one"), "192.0.2.9".parse().expect("it is one"));
        let held = [limit.open_one(one), limit.open_one(one)];
        assert!(held.iter().all(Option::is_some) && limit.open_one(one).is_none());
        assert!((0..9).all(|_| limit.open_one(proxy).is_some()));
        drop(held);
        assert!(limit.open_one(one).is_some());
        assert!(limit.open.lock().expect("it is there").is_empty(), "nothing is kept of who left");
    }
}
