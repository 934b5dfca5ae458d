//! The states of a kind of thing, and the steps between them.

use crate::problem::Problem;

/// What may follow what.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct States {
    /// Each state, and those that may follow it, in the order in which they are offered.
    pub steps: &'static [(&'static str, &'static [&'static str])],
}

impl States {
    /// Those that may follow a state; none follow one that there is not.
    #[must_use]
    pub fn after(&self, state: &str) -> &'static [&'static str] {
        self.steps.iter().find(|(from, _)| *from == state).map_or(&[], |(_, after)| after)
    }

    /// Checks a step of what people call `name`. To stay is none.
    ///
    /// # Errors
    /// Refused where one does not follow the other, with what does.
    pub fn check(&self, name: &str, from: &str, to: &str) -> Result<(), Problem> {
        if from == to || self.after(from).contains(&to) {
            return Ok(());
        }
        let said = |state: &str| state.replace('_', " ");
        let after: Vec<String> = self.after(from).iter().map(|state| format!("“{}”", said(state))).collect();
        let words = format!(
            "{name} is {} and cannot be {} next. From there it goes to {}.",
            said(from),
            said(to),
            after.join(" or ")
        );
        Err(Problem::refused("no-such-step", words))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::ThingKind;

    #[test]
    fn what_is_out_is_taken_back_before_it_is_planned_anew() {
        let states = ThingKind::Release.description().states.unwrap();
        for (from, to) in [("planned", "under_way"), ("planned", "released"), ("released", "released")] {
            assert!(states.check("R1", from, to).is_ok(), "{from} → {to}");
        }
        let refused = states.check("R1", "released", "planned").unwrap_err();
        assert_eq!(refused.code(), "no-such-step");
        assert!(
            matches!(&refused, Problem::Refused { words, .. }
                if words == "R1 is released and cannot be planned next. From there it goes to “under way”."),
            "{refused:?}"
        );
    }

    #[test]
    fn every_state_can_be_reached_and_left_and_the_first_is_one() {
        for kind in ThingKind::ALL {
            let Some(states) = kind.description().states else { continue };
            let names: Vec<&str> = states.steps.iter().map(|(from, _)| *from).collect();
            for (from, after) in states.steps {
                assert!(!after.is_empty() && !after.contains(from), "{kind}: {from}");
                assert!(after.iter().all(|to| names.contains(to)), "{kind}: {from}");
                assert!(states.steps.iter().any(|(_, after)| after.contains(from)), "{kind}: nothing leads to {from}");
            }
        }
    }
}
