//! Rules that set off rules, and where that ends.

use std::collections::BTreeSet;

use crate::things::{RuleId, Thing};

/// At most so many rules set one another off in a row.
pub const DEEPEST: usize = 5;

/// What led to a change: which rules wrote it, on which things, and which rules wrote what had set those off. Empty where a
/// person did it.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Chain {
    steps: usize,
    ran: BTreeSet<(RuleId, Thing)>,
}

/// Why a rule is not run.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stop {
    /// It ran on this thing in this chain already.
    Again,
    /// The chain is as long as a chain may be.
    TooLong,
}

impl Stop {
    /// What is told of it.
    #[must_use]
    pub fn words(self) -> String {
        match self {
            Stop::Again => "Stopped: it ran on this already, and what it did led back to it.".into(),
            Stop::TooLong => format!("Stopped: {DEEPEST} rules had set one another off before it."),
        }
    }
}

impl Chain {
    /// The chain from its steps, whatever their order: what the rules of each wrote together.
    #[must_use]
    pub fn of(steps: impl IntoIterator<Item = Vec<(RuleId, Thing)>>) -> Self {
        steps.into_iter().fold(Chain::default(), |chain, step| chain.then(step))
    }

    /// The chain with one more step.
    #[must_use]
    pub fn then(mut self, step: impl IntoIterator<Item = (RuleId, Thing)>) -> Self {
        self.steps += 1;
        self.ran.extend(step);
        self
    }

    /// Whether a rule may run on a thing at the end of this chain. So each runs on each thing at most once in a chain, and no
    /// chain is longer than [`DEEPEST`].
    ///
    /// # Errors
    /// Why not.
    pub fn may_run(&self, rule: RuleId, thing: Thing) -> Result<(), Stop> {
        if self.ran.contains(&(rule, thing)) {
            return Err(Stop::Again);
        }
        if self.steps >= DEEPEST { Err(Stop::TooLong) } else { Ok(()) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::ThingKind;
    use proptest::prelude::*;
    use std::collections::{BTreeMap, VecDeque};

    fn idea(id: i64) -> Thing {
        Thing::new(ThingKind::Idea, id)
    }

    #[test]
    fn a_rule_runs_once_on_a_thing_and_chains_end() {
        let start = Chain::default();
        assert_eq!(start.may_run(RuleId(1), idea(1)), Ok(()));
        let next = start.then([(RuleId(1), idea(1))]);
        assert_eq!(next.may_run(RuleId(1), idea(1)), Err(Stop::Again));
        assert_eq!(next.may_run(RuleId(1), idea(2)), Ok(()));
        assert_eq!(next.may_run(RuleId(2), idea(1)), Ok(()));
        let long = (2..=5).fold(next, |chain, n| chain.then([(RuleId(1), idea(n))]));
        assert_eq!(long.may_run(RuleId(2), idea(1)), Err(Stop::TooLong));
    }

    /// When a thing has the value `when`, it, or another one, has `then` from now on; a new thing may come instead.
    #[derive(Debug, Clone)]
    struct Toy {
        when: u8,
        then: u8,
        on: Target,
    }

    #[derive(Debug, Clone, Copy)]
    enum Target {
        Itself,
        Other(i64),
        New,
    }

    fn toys() -> impl Strategy<Value = Vec<Toy>> {
        let target = prop_oneof![Just(Target::Itself), (0i64..4).prop_map(Target::Other), Just(Target::New)];
        prop::collection::vec((0u8..4, 0u8..4, target).prop_map(|(when, then, on)| Toy { when, then, on }), 1..7)
    }

    proptest! {
        /// Whatever the rules are, a change that a person made comes to an end; no chain is longer than it may be, and no rule
        /// runs twice on a thing within one.
        #[test]
        fn no_chain_of_rules_runs_for_ever(rules in toys(), first in 0u8..4) {
            let mut values: BTreeMap<i64, u8> = (0..4).map(|id| (id, 9)).collect();
            values.insert(0, first);
            let mut waiting = VecDeque::from([(idea(0), first, Chain::default(), Vec::new())]);
            let mut ran = 0;
            while let Some((thing, value, chain, path)) = waiting.pop_front() {
                for (n, rule) in rules.iter().enumerate().filter(|(_, rule)| rule.when == value) {
                    let id = RuleId(i64::try_from(n).unwrap());
                    if chain.may_run(id, thing).is_err() {
                        continue;
                    }
                    let mut path: Vec<(RuleId, Thing)> = path.clone();
                    prop_assert!(!path.contains(&(id, thing)));
                    path.push((id, thing));
                    prop_assert!(path.len() <= DEEPEST);
                    ran += 1;
                    let to = match rule.on {
                        Target::Itself => thing.id,
                        Target::Other(other) => other,
                        Target::New => i64::try_from(values.len()).unwrap(),
                    };
                    if values.insert(to, rule.then) != Some(rule.then) {
                        waiting.push_back((idea(to), rule.then, chain.clone().then([(id, thing)]), path));
                    }
                }
                let most: usize = (1..=DEEPEST).map(|depth| rules.len().pow(u32::try_from(depth).unwrap())).sum();
                prop_assert!(ran <= most);
            }
        }
    }
}
