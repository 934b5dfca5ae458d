//! Excerpts of like meaning become groups, from which findings are proposed.
//!
//! ```text
//! excerpts, each once (once.rs) → points (points.rs), by what tells needs apart (needs.rs) → nearest neighbours (neighbours.rs)
//!          → likeness by walks (walks.rs) → groups under what people decided (louvain.rs)
//!          → groups whose middles are the same made one (clouds.rs)
//! ```
//!
//! What was tried and what each step is worth stands in `docs/methods/grouping.md`.

mod clouds;
mod louvain;
mod needs;
mod neighbours;
mod once;
mod parts;
mod points;
mod walks;

#[cfg(test)]
mod tests;

use std::collections::{BTreeMap, BTreeSet};

use crate::jobs::Watch;
use crate::text::{Vector, middle};
use louvain::Graph;
use neighbours::Points;
use once::Once;
use parts::in_parts;
pub use points::Member;
use points::Sight;

/// How alike excerpts must be to stand together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Strictness {
    /// Few, wide groups.
    Loose,
    /// As measured best.
    #[default]
    Even,
    /// Many, narrow groups; more stays outside.
    Strict,
}

/// Of so many excerpts the resolution is as measured best; of more, groups may be larger.
const FEW: f32 = 100.0;
/// The resolution is this at least.
const LEAST_RESOLUTION: f32 = 0.015;
/// What is weak must be so much nearer to the middle of a group to join it.
const WEAK_JOINS: f32 = 0.1;

impl Strictness {
    /// The likeness that the members of a group have on average at least (the γ of the constant Potts model), for so many
    /// members. Themes grow with what is said: of a hundred excerpts they have five or so, of thousands dozens.
    fn resolution(self, members: usize) -> f32 {
        let few = match self {
            Strictness::Loose => 0.05,
            Strictness::Even => 0.08,
            Strictness::Strict => 0.12,
        };
        (few * (FEW / float(members).max(FEW)).cbrt()).max(LEAST_RESOLUTION)
    }

    /// As alike to the middle of a group an excerpt must be to join it.
    fn joins(self) -> f32 {
        match self {
            Strictness::Loose => 0.45,
            Strictness::Even => 0.5,
            Strictness::Strict => 0.6,
        }
    }

    /// Groups whose middles are as alike as this are one.
    fn same(self) -> f32 {
        match self {
            Strictness::Loose => 0.45,
            Strictness::Even => 0.55,
            Strictness::Strict => 0.65,
        }
    }
}

/// What people decided, which a run keeps.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Decided {
    /// Members (by their place) that stand together, such as those of a finding that somebody accepted. A member is in
    /// one of them at most.
    pub together: Vec<Vec<usize>>,
    /// Pairs of members that never stand together. Where they contradict `together`, `together` holds.
    pub apart: Vec<(usize, usize)>,
}

/// Groups the members: for each its group, numbered from 0 in the order of their first members. One that is like no other
/// has a group of its own.
///
/// What is decided holds in the outcome. The same input gives the same outcome. For n members about O(n · √n) for the
/// neighbours, O(n) for the rest.
#[must_use]
pub fn group(members: &[Member], decided: &Decided, strictness: Strictness) -> Vec<usize> {
    // Nobody stops it.
    group_watched(members, decided, strictness, &Watch::default()).unwrap_or_default()
}

/// The watch of a grouping goes on by this for each member, at most.
pub const STEPS: usize = 4;

/// As [`group`], with somebody who watches; nothing where it is stopped.
#[must_use]
pub fn group_watched(
    members: &[Member],
    decided: &Decided,
    strictness: Strictness,
    watch: &Watch,
) -> Option<Vec<usize>> {
    let once = Once::of(members, decided);
    let place = once.firsts.iter().enumerate().map(|(place, at)| (*at, place)).collect();
    let firsts: Vec<&Member> = once.firsts.iter().map(|at| &members[*at]).collect();
    let groups = group_firsts(&firsts, &decided.among(&place), strictness, watch)?;
    Some(numbered(&once.place.iter().map(|place| groups[*place]).collect::<Vec<_>>()))
}

fn group_firsts(members: &[&Member], decided: &Decided, strictness: Strictness, watch: &Watch) -> Option<Vec<usize>> {
    let held: BTreeSet<usize> = decided.together.iter().flatten().copied().collect();
    let strong: Vec<usize> = (0..members.len()).filter(|at| !members[*at].weak || held.contains(at)).collect();
    let place: BTreeMap<usize, usize> = strong.iter().enumerate().map(|(place, at)| (*at, place)).collect();
    let among: Vec<&Member> = strong.iter().map(|at| members[*at]).collect();
    let among = grouped(&among, &decided.among(&place), strictness, watch)?;
    // What is weak stands alone until it joins.
    let groups = (0..members.len()).map(|at| place.get(&at).map_or(members.len() + at, |place| among[*place]));
    single_joined(members, groups.collect(), decided, strictness, watch)
}

/// Groups of members that can make some.
fn grouped(members: &[&Member], decided: &Decided, strictness: Strictness, watch: &Watch) -> Option<Vec<usize>> {
    if members.is_empty() {
        return Some(Vec::new());
    }
    let sight = Sight::of(members);
    let neighbours = neighbours::nearest(&Points::of(sight.points(members)), neighbours::COUNT, watch)?;
    let likeness = walks::likeness(&neighbours, watch)?;
    let graph = Graph::of(members.len(), &likeness, decided);
    // A hundred thousand of each are much beside what comes.
    drop((neighbours, likeness));
    let groups = louvain::communities(&graph, strictness.resolution(members.len()), watch)?;
    let groups = same_made_one(members, groups, decided, strictness.same(), watch)?;
    Some(weak_left(members, &sight, groups, decided))
}

impl Decided {
    /// What is decided of members that have these places among some.
    fn among(&self, place: &BTreeMap<usize, usize>) -> Decided {
        let together = self.together.iter().map(|all| all.iter().map(|at| place[at]).collect());
        let apart = self.apart.iter().filter_map(|(one, other)| Some((*place.get(one)?, *place.get(other)?)));
        Decided { together: together.collect(), apart: apart.collect() }
    }
}

/// Members that are less like the others of their group than this, on average, leave it.
const WEAK: f32 = 0.05;

/// Members that are hardly like the others of their group leave it for one of their own, but for those that people put
/// there.
fn weak_left(members: &[&Member], sight: &Sight, mut groups: Vec<usize>, decided: &Decided) -> Vec<usize> {
    let held: BTreeSet<usize> = decided.together.iter().flatten().copied().collect();
    let mut next = groups.iter().max().map_or(0, |most| most + 1);
    for all in by_group(&groups).into_values().filter(|all| all.len() > 1 && all.len() <= LARGE) {
        // Told anew here, so that a hundred thousand of them are not kept all the way.
        let points: Vec<Vec<f32>> = all.iter().map(|at| sight.point(members[*at])).collect();
        for (one, at) in all.iter().enumerate().filter(|(_, at)| !held.contains(at)) {
            let others = (0..all.len()).filter(|other| *other != one);
            let sum: f32 = others.map(|other| neighbours::alike(&points[one], &points[other])).sum();
            if sum < WEAK * float(all.len() - 1) {
                groups[*at] = next;
                next += 1;
            }
        }
    }
    groups
}

/// What is alone joins the group whose middle it is near to, as what arrives later does.
fn single_joined(
    members: &[&Member],
    groups: Vec<usize>,
    decided: &Decided,
    strictness: Strictness,
    watch: &Watch,
) -> Option<Vec<usize>> {
    let all = by_group(&groups);
    let middles: Vec<(usize, Vector)> = all
        .iter()
        .filter(|(_, all)| all.len() > 1)
        .map(|(group, all)| (*group, middle_of(all.iter().map(|at| members[*at].meaning()))))
        .collect();
    let centre = middle_of(members.iter().map(|member| member.meaning()));
    let nearest = Nearest::of(&centre, middles, strictness);
    let mut apart: BTreeMap<usize, Vec<usize>> = BTreeMap::new();
    for (one, other) in &decided.apart {
        apart.entry(*one).or_default().push(*other);
        apart.entry(*other).or_default().push(*one);
    }
    let joins = |at: usize, groups: &[usize]| {
        let never = apart.get(&at).into_iter().flatten();
        let never: BTreeSet<usize> = never.map(|other| groups[*other]).collect();
        let least = if members[at].weak { nearest.least + WEAK_JOINS } else { nearest.least };
        let joined = nearest.to(&members[at].meaning(), |group| !never.contains(&group));
        joined.filter(|(_, alike)| *alike >= least).map_or(groups[at], |(group, _)| group)
    };
    let single = |at: usize| all[&groups[at]].len() == 1;
    let free = |at: usize| single(at) && !apart.contains_key(&at);
    let join = |(): &mut (), at: usize| if free(at) { joins(at, &groups) } else { groups[at] };
    let mut joined = in_parts(members.len(), watch, || (), join)?;
    // Where one joins that is kept apart from others depends on where those went.
    for at in apart.keys().copied().filter(|at| single(*at)) {
        joined[at] = joins(at, &joined);
    }
    Some(joined)
}

/// A start, and what nearness to the middle is worth.
const SURE: [f32; 2] = [-4.76, 7.09];

/// How sure it is that an excerpt belongs to a group to whose middle it is so alike, 0 to 1. The numbers are learned from
/// labelled texts seen more closely; nothing else that was tried tells more (`docs/methods/findings.md`).
#[must_use]
pub fn sure_of(alike: f32) -> f32 {
    1.0 / (1.0 + (-(SURE[0] + SURE[1] * alike)).exp())
}

/// Groups by their middles, to find the one that an excerpt belongs to.
#[derive(Debug, Clone)]
pub struct Nearest {
    centre: Vector,
    middles: Vec<(usize, Vec<f32>)>,
    least: f32,
}

impl Nearest {
    /// Groups by their middles, among excerpts with this centre.
    #[must_use]
    pub fn of(centre: &Vector, middles: Vec<(usize, Vector)>, strictness: Strictness) -> Self {
        let seen = middles.into_iter().map(|(group, middle)| (group, points::from_centre(&middle, centre))).collect();
        Nearest { centre: centre.clone(), middles: seen, least: strictness.joins() }
    }

    /// How alike an excerpt is to the middle of a group, −1 to +1; 0 where there is no such group. O(groups).
    #[must_use]
    pub fn alike(&self, meaning: &Vector, group: usize) -> f32 {
        let seen = points::from_centre(meaning, &self.centre);
        self.middles.iter().find(|(one, _)| *one == group).map_or(0.0, |(_, middle)| crate::text::dot(&seen, middle))
    }

    /// The group that an excerpt belongs to among those that are `free` for it, with how alike it is to its middle; nothing
    /// where it is like none. O(groups).
    #[must_use]
    pub fn to(&self, meaning: &Vector, free: impl Fn(usize) -> bool) -> Option<(usize, f32)> {
        let seen = points::from_centre(meaning, &self.centre);
        let alike = self.middles.iter().map(|(group, middle)| (*group, crate::text::dot(&seen, middle)));
        alike.filter(|(group, alike)| *alike >= self.least && free(*group)).max_by(|a, b| a.1.total_cmp(&b.1))
    }
}

/// In a larger group nothing is weak: it was made of groups whose middles are the same.
const LARGE: usize = 500;

pub(super) fn by_group(groups: &[usize]) -> BTreeMap<usize, Vec<usize>> {
    let mut by_group: BTreeMap<usize, Vec<usize>> = BTreeMap::new();
    groups.iter().enumerate().for_each(|(at, group)| by_group.entry(*group).or_default().push(at));
    by_group
}

#[expect(clippy::cast_precision_loss, reason = "counts of excerpts are far below 2^23")]
fn float(count: usize) -> f32 {
    count as f32
}

/// Makes one of groups whose middles are the same: a large cloud of alike excerpts is cut into pieces by the walks, which
/// reach only so far. Two groups that people keep apart stay apart. One excerpt alone is no cloud. O(clouds²).
fn same_made_one(
    members: &[&Member],
    groups: Vec<usize>,
    decided: &Decided,
    same: f32,
    watch: &Watch,
) -> Option<Vec<usize>> {
    let mut apart: BTreeMap<usize, BTreeSet<usize>> = BTreeMap::new();
    for (one, other) in decided.apart.iter().map(|(one, other)| (groups[*one], groups[*other])) {
        apart.entry(one).or_default().insert(other);
        apart.entry(other).or_default().insert(one);
    }
    let all = by_group(&groups).into_iter().filter(|(_, all)| all.len() > 1);
    let parts = all.map(|(group, all)| clouds::Part {
        group,
        sum: middle_sum(all.iter().map(|at| members[*at].meaning())),
        apart: apart.remove(&group).unwrap_or_default(),
    });
    let centre = middle_of(members.iter().map(|member| member.meaning()));
    let instead = clouds::made_one(parts.collect(), &centre, same, watch)?;
    Some(groups.into_iter().map(|group| instead.get(&group).copied().unwrap_or(group)).collect())
}

fn middle_sum(vectors: impl IntoIterator<Item = Vector>) -> Vec<f32> {
    let mut sum = vec![0.0; crate::text::DIMENSIONS];
    for vector in vectors {
        sum.iter_mut().zip(vector.numbers()).for_each(|(sum, x)| *sum += x);
    }
    sum
}

pub(super) fn middle_of(vectors: impl IntoIterator<Item = Vector>) -> Vector {
    middle(vectors).unwrap_or_else(|| Vector::pointing(Vec::new()))
}

/// The same groups, numbered in the order of their first members.
fn numbered(groups: &[usize]) -> Vec<usize> {
    let mut numbers = BTreeMap::new();
    groups
        .iter()
        .map(|group| {
            let next = numbers.len();
            *numbers.entry(*group).or_insert(next)
        })
        .collect()
}

/// The share of members whose nearest other member has the same label, 0 to 1: how well likeness alone tells what belongs
/// together. Nothing where there are fewer than two. O(n²).
#[must_use]
pub fn nearest_agree(members: &[Member], labels: &[usize]) -> Option<f64> {
    let count = u32::try_from(members.len()).ok().filter(|count| *count > 1)?;
    let (members, watch) = (members.iter().collect::<Vec<_>>(), Watch::default());
    let points = Points::of(Sight::of(&members).points(&members));
    let neighbours = neighbours::nearest(&points, neighbours::COUNT, &watch)?;
    let likeness = walks::likeness(&neighbours, &watch)?;
    let agree = likeness.iter().enumerate().filter(|(at, row)| {
        let nearest = row.iter().filter(|(other, _)| other != at).max_by(|a, b| a.1.total_cmp(&b.1));
        nearest.is_some_and(|(other, _)| labels[*other] == labels[*at])
    });
    Some(f64::from(u32::try_from(agree.count()).ok()?) / f64::from(count))
}
