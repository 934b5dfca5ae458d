//! How often somebody may try something. What is remembered of them is a number, and there is room for so many of these.

use std::collections::HashSet;
use std::collections::hash_map::RandomState;
use std::hash::BuildHasher;
use std::net::IpAddr;
use std::num::NonZeroU32;
use std::sync::{PoisonError, RwLock};
use std::time::Duration;

use governor::clock::{Clock, DefaultClock};
use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use iron_kite_core::problem::Problem;

/// So many are remembered of whom it was heard lately; beyond that all are forgotten, which gives each of them a new start and
/// keeps the memory bounded.
const MOST: usize = 20_000;

/// How often, for each of many.
pub(crate) struct Limit {
    quota: Quota,
    /// Keys are mixed with chance, so that nobody can choose one that is somebody else's.
    mix: RandomState,
    limiter: RwLock<DefaultKeyedRateLimiter<u64>>,
}

impl Limit {
    /// So many at once, and then one after each time.
    pub(crate) fn new(at_once: u32, then_each: Duration) -> Self {
        let each = Quota::with_period(then_each).unwrap_or(Quota::per_second(NonZeroU32::MIN));
        let quota = each.allow_burst(NonZeroU32::new(at_once).unwrap_or(NonZeroU32::MIN));
        Limit { quota, mix: RandomState::new(), limiter: RwLock::new(RateLimiter::keyed(quota)) }
    }

    /// So many a minute.
    pub(crate) fn per_minute(count: u32) -> Self {
        Limit::new(count, Duration::from_secs(60) / count.max(1))
    }

    /// Counts a try.
    ///
    /// # Errors
    /// With the time to wait, where it was too often.
    pub(crate) fn take(&self, key: &str) -> Result<(), Problem> {
        let key = self.mix.hash_one(key);
        let limiter = self.limiter.read().unwrap_or_else(PoisonError::into_inner);
        let taken = limiter
            .check_key(&key)
            .map_err(|wait| Problem::TooManyTries(wait.wait_time_from(DefaultClock::default().now()).as_secs() + 1));
        let full = limiter.len() > MOST;
        drop(limiter);
        if full {
            self.forget();
        }
        taken
    }

    fn forget(&self) {
        let mut limiter = self.limiter.write().unwrap_or_else(PoisonError::into_inner);
        limiter.retain_recent();
        if limiter.len() > MOST / 2 {
            *limiter = RateLimiter::keyed(self.quota);
        }
    }
}

/// The limits of signing in. Who guesses is slowed down and nobody is locked out: where somebody signed in before, the tries of
/// others elsewhere do not count.
pub(crate) struct SignInLimits {
    /// One account from one place.
    pair: Limit,
    /// All accounts from one place.
    place: Limit,
    /// One account from all places, over an hour and over a day.
    hour: Limit,
    day: Limit,
    mix: RandomState,
    known: RwLock<HashSet<u64>>,
}

impl Default for SignInLimits {
    fn default() -> Self {
        SignInLimits {
            pair: Limit::per_minute(10),
            place: Limit::new(60, Duration::from_secs(4)),
            hour: Limit::new(30, Duration::from_secs(120)),
            day: Limit::new(100, Duration::from_secs(15 * 60)),
            mix: RandomState::new(),
            known: RwLock::default(),
        }
    }
}

impl SignInLimits {
    /// Counts a try to sign in to an account, by its address as it was typed.
    ///
    /// # Errors
    /// With the time to wait, where it was too often.
    pub(crate) fn take(&self, from: &str, account: &str) -> Result<(), Problem> {
        let account = folded(account);
        let pair = format!("{from} {account}");
        self.place.take(from)?;
        self.pair.take(&pair)?;
        if self.known.read().unwrap_or_else(PoisonError::into_inner).contains(&self.mix.hash_one(&pair)) {
            return Ok(());
        }
        self.hour.take(&account)?;
        self.day.take(&account)
    }

    /// Notes that somebody signed in to an account from a place.
    pub(crate) fn succeeded(&self, from: &str, account: &str) {
        let pair = self.mix.hash_one(format!("{from} {}", folded(account)));
        let mut known = self.known.write().unwrap_or_else(PoisonError::into_inner);
        if known.len() >= MOST {
            known.clear();
        }
        known.insert(pair);
    }
}

/// An address as the store compares it.
fn folded(account: &str) -> String {
    account.trim().to_lowercase()
}

/// What stands for a place: an address, of which in the newer form somebody has as many as they like below one prefix.
pub(crate) fn place_of(address: &str) -> String {
    match address.parse::<IpAddr>() {
        Ok(IpAddr::V6(address)) if address.to_ipv4_mapped().is_none() => {
            let [a, b, c, d, ..] = address.segments();
            format!("{a:x}:{b:x}:{c:x}:{d:x}::/64")
        }
        Ok(IpAddr::V6(address)) => address.to_ipv4_mapped().map_or_else(String::new, |address| address.to_string()),
        Ok(address) => address.to_string(),
        // What a proxy wrote that is no address.
        Err(_) => address.chars().take(64).collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_remembered_is_bounded_and_nobody_is_let_off_by_how_they_write_it() {
        let limits = SignInLimits::default();
        let tries = [" wren@x.example", "WREN@x.example ", "wren@X.example\t"];
        let let_in = (0..30).filter(|at| limits.take("192.0.2.1", tries[at % 3]).is_ok()).count();
        assert_eq!(let_in, 10);
        let limit = Limit::per_minute(2);
        for at in 0..MOST + 100 {
            let _ = limit.take(&at.to_string());
        }
        assert!(limit.limiter.read().unwrap().len() <= MOST + 1);
    }

    #[test]
    fn many_places_slow_an_account_down_but_not_where_it_is_used() {
        let limits = SignInLimits::default();
        limits.take("192.0.2.9", "wren@x.example").unwrap();
        limits.succeeded("192.0.2.9", "Wren@x.example");
        let from = |at: usize| format!("198.51.100.{at}");
        let let_in = (0..200).filter(|at| limits.take(&from(*at), "wren@x.example").is_ok()).count();
        assert!((25..=30).contains(&let_in), "{let_in}");
        limits.take("192.0.2.9", "wren@x.example").unwrap();
        // And one place tries many names.
        let let_in = (0..200).filter(|at| limits.take("203.0.113.5", &format!("{at}@x.example")).is_ok()).count();
        assert!((60..=62).contains(&let_in), "{let_in}");
    }

    #[test]
    fn a_prefix_is_one_place() {
        assert_eq!(place_of("2001:db8:1:2:3:4:5:6"), place_of("2001:db8:1:2::9"));
        assert_ne!(place_of("2001:db8:1:2::9"), place_of("2001:db8:1:3::9"));
        assert_eq!(place_of("::ffff:192.0.2.1"), "192.0.2.1");
    }
}
