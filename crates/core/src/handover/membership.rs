//! That somebody is in a team.

use crate::kind::prelude::*;

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "membership",
    singular: "membership",
    plural: "memberships",
    stage: Stage::HandOver,
    relations: &[Relation::to("team_id", ThingKind::Team).goes()],
    spoken_of: false,
    ..Description::BASE
};
