//! A place that is asked over the network: `GET PLACE/tickets?after=CURSOR&limit=100` answers
//! `{"tickets": [{…}, …], "next": "CURSOR"}`, oldest first; with nothing new, the list is empty. The key goes as
//! `Authorization: Bearer KEY`. A review site says `reviews` where a desk says `tickets`. docs/channels.md has all of it.

use std::sync::LazyLock;
use std::time::Duration;

use iron_kite_ops::outside::Fetched;
use serde_json::Value;
use ureq::Agent;
use ureq::config::Config;
use ureq::http::header::RETRY_AFTER;
use ureq::unversioned::transport::DefaultConnector;

use super::public::PublicOnly;

/// So many are asked for at once.
const PAGE: usize = 100;
/// The largest answer, in bytes.
const MOST_BYTES: u64 = 16 * 1024 * 1024;
const PATIENCE: Duration = Duration::from_secs(20);

/// Asks any place, or those of the open network.
static ANY: LazyLock<Agent> = LazyLock::new(|| config().into());
static PUBLIC: LazyLock<Agent> =
    LazyLock::new(|| Agent::with_parts(config(), DefaultConnector::default(), PublicOnly::default()));

/// Which places may be asked.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Reach {
    /// Any, also of this machine.
    Any,
    /// Those of the open network.
    Public,
}

fn config() -> Config {
    // A place that sends somewhere else is not followed: its key would go with it. Nor is it asked by way of another.
    let config = Agent::config_builder().timeout_global(Some(PATIENCE)).max_redirects(0).http_status_as_error(false);
    config.proxy(None).build()
}

/// The next page of what is new.
pub(super) fn fetch(
    reach: Reach,
    address: &str,
    what: &str,
    secret: Option<&str>,
    cursor: Option<&str>,
) -> Result<Fetched, String> {
    let limit = PAGE.to_string();
    let asked = [("limit", limit.as_str()), ("after", cursor.unwrap_or_default())];
    let text = ask(reach, &format!("{}/{what}", address.trim_end_matches('/')), &asked, secret)?;
    let wrong = || format!("Its answer is not what it should be: no JSON object with a list of {what}.");
    let page: Value = serde_json::from_str(&text).map_err(|_| wrong())?;
    let all = page[what].as_array().ok_or_else(wrong)?;
    let next = page["next"].as_str().map(str::to_owned).or_else(|| page["next"].as_i64().map(|next| next.to_string()));
    let next = next.or(cursor.map(str::to_owned)).unwrap_or_default();
    if all.is_empty() {
        return Ok(Fetched { cursor: next, ..Fetched::default() });
    }
    // A place that gives the same again and again would never end.
    let more = cursor != Some(next.as_str()) && !next.is_empty();
    let bytes = serde_json::to_vec(all).map_err(|fault| fault.to_string())?;
    Ok(Fetched { files: vec![(format!("{what}.json"), bytes)], left_out: vec![], cursor: next, more })
}

/// What an address answers, where it answers as it should.
pub(super) fn ask(reach: Reach, address: &str, asked: &[(&str, &str)], secret: Option<&str>) -> Result<String, String> {
    let agent = if reach == Reach::Any { &ANY } else { &PUBLIC };
    let mut request = agent.get(address).query_pairs(asked.iter().copied());
    if let Some(secret) = secret {
        request = request.header("authorization", format!("Bearer {secret}"));
    }
    let mut answer = request.call().map_err(|fault| silent(&fault))?;
    let status = answer.status().as_u16();
    if status != 200 {
        let wait = answer.headers().get(RETRY_AFTER).and_then(|wait| wait.to_str().ok()).map(str::to_owned);
        return Err(refusal(status, wait.as_deref()));
    }
    let text = answer.body_mut().with_config().limit(MOST_BYTES).read_to_string();
    let text = text.map_err(|_| "Its answer is larger than 16 MB or breaks off. Ask for less at once.".to_owned())?;
    Ok(text)
}

fn refusal(status: u16, wait: Option<&str>) -> String {
    match (status, wait) {
        (401 | 403, _) => "It does not take the key. Give the channel another one.".to_owned(),
        (404, _) => "It does not know this address. Correct the place.".to_owned(),
        (429 | 503, Some(wait)) => format!("It asks to wait for {wait} seconds. The next look goes on from here."),
        (429 | 503, None) => "It is too busy. The next look goes on from here.".to_owned(),
        (300..=399, _) => "It sends to another address, which is not followed. Correct the place.".to_owned(),
        _ => format!("It answers with the status {status}. The next look tries again."),
    }
}

fn silent(fault: &ureq::Error) -> String {
    match fault {
        ureq::Error::HostNotFound => "There is no such host in the open network. Correct the place; whoever runs the server may start it with --nearby for places of its own network.".to_owned(),
        ureq::Error::Timeout(_) => "It did not answer within 20 seconds. The next look tries again.".to_owned(),
        ureq::Error::BadUri(_) => "This is no address. Correct the place.".to_owned(),
        _ => "It cannot be reached. The next look tries again.".to_owned(),
    }
}
