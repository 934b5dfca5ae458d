//! Changes as server-sent events: what changed, not the values; the front end asks again.

use std::time::Duration;

use actix_web::web::Bytes;
use futures_util::stream::{Stream, unfold};
use iron_kite_ops::App;
use iron_kite_store::Committed;
use tokio::sync::broadcast::{self, Receiver, Sender, error::RecvError};
use tokio::time::{Instant, timeout};

use crate::desk::{Caller, Desk};

/// So many changes wait for a slow listener; beyond that it is told to ask for everything again.
const WAITING: usize = 256;
/// A sign of life, so that dead connections are noticed.
const PULSE: Duration = Duration::from_secs(20);
/// How often it is looked whether whoever listens is still signed in.
const STILL: Duration = Duration::from_secs(3);
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

    /// The changes from now on, as the body of an answer. It ends soon after the session of whoever listens.
    pub(crate) fn stream(
        &self,
        desk: Desk,
        caller: Caller,
    ) -> impl Stream<Item = Result<Bytes, actix_web::Error>> + use<> {
        let now = Instant::now();
        let hello = Some("retry: 2000\nevent: hello\ndata: {}\n\n".to_owned());
        let listener = Listener {
            desk,
            caller: caller.looked_up_anew(),
            receiver: self.sender.subscribe(),
            end: now + LONGEST,
            looked: now,
            told: now,
        };
        unfold((listener, hello), |(mut listener, hello)| async move {
            let event = match hello {
                Some(hello) => hello,
                None => listener.next().await?,
            };
            Some((Ok(Bytes::from(event)), (listener, None)))
        })
    }
}

/// Somebody who listens.
struct Listener {
    desk: Desk,
    caller: Caller,
    receiver: Receiver<String>,
    end: Instant,
    /// When it was looked last whether they are still signed in.
    looked: Instant,
    /// When they heard something last.
    told: Instant,
}

impl Listener {
    /// The next event; nothing where there are no more for them.
    async fn next(&mut self) -> Option<String> {
        loop {
            let heard = timeout(STILL, self.receiver.recv()).await;
            if self.looked.elapsed() >= STILL {
                self.looked = Instant::now();
                let here = self.desk.ask(self.caller.clone(), |_, call| Ok(call.actor.is_some())).await;
                // Where that cannot be told now, it is at the next look.
                if here.is_ok_and(|here| !here) {
                    return None;
                }
            }
            let event = match heard {
                _ if Instant::now() > self.end => return None,
                Ok(Ok(event)) => event,
                Ok(Err(RecvError::Lagged(_))) => "event: lost\ndata: {}\n\n".into(),
                Ok(Err(RecvError::Closed)) => return None,
                Err(_) if self.told.elapsed() < PULSE => continue,
                Err(_) => ": still here\n\n".into(),
            };
            self.told = Instant::now();
            return Some(event);
        }
    }
}
