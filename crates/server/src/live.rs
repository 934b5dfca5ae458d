//! Changes as server-sent events: what changed, not the values; the front end asks again.

use std::time::Duration;

use actix_web::web::Bytes;
use futures_util::stream::{Stream, unfold};
use iron_kite_ops::App;
use iron_kite_store::Committed;
use tokio::sync::broadcast::{self, Receiver, Sender, error::RecvError};
use tokio::time::{Instant, timeout};

/// So many changes wait for a slow listener; beyond that it is told to ask for everything again.
const WAITING: usize = 256;
/// A sign of life, so that dead connections are noticed.
const PULSE: Duration = Duration::from_secs(20);
/// Then the browser connects again, and its session is looked at again.
const LONGEST: Duration = Duration::from_secs(30 * 60);

/// Where changes are told.
pub(crate) struct Live {
    sender: Sender<String>,
}

impl Live {
    pub(crate) fn new() -> Self {
        Live { sender: broadcast::channel(WAITING).0 }
    }

    /// Tells every change of this application.
    pub(crate) fn follow(&self, app: &App) {
        let sender = self.sender.clone();
        app.on_change(move |change: &Committed| {
            if let Ok(data) = serde_json::to_string(change) {
                // Nobody listens: nobody has to be told.
                let _ = sender.send(format!("id: {}\nevent: change\ndata: {data}\n\n", change.set));
            }
        });
    }

    /// The changes from now on, as the body of an answer.
    pub(crate) fn stream(&self) -> impl Stream<Item = Result<Bytes, actix_web::Error>> + use<> {
        let end = Instant::now() + LONGEST;
        let hello = Some("retry: 2000\nevent: hello\ndata: {}\n\n".to_owned());
        unfold((self.sender.subscribe(), hello), move |(mut receiver, hello)| async move {
            if Instant::now() > end {
                return None;
            }
            let event = match hello {
                Some(hello) => hello,
                None => next(&mut receiver).await?,
            };
            Some((Ok(Bytes::from(event)), (receiver, None)))
        })
    }
}

async fn next(receiver: &mut Receiver<String>) -> Option<String> {
    match timeout(PULSE, receiver.recv()).await {
        Ok(Ok(event)) => Some(event),
        Ok(Err(RecvError::Lagged(_))) => Some("event: lost\ndata: {}\n\n".into()),
        Ok(Err(RecvError::Closed)) => None,
        Err(_) => Some(": still here\n\n".into()),
    }
}
