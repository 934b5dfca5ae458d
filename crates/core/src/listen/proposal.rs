//! What a run of the grouping would make of a product's excerpts: it adds to what people decided, and undoes none of it.

use std::collections::{BTreeMap, BTreeSet};

use super::grouping::{Decided, Member, Nearest, Strictness, by_group, group_watched, middle_of, sure_of};
use crate::jobs::Watch;
use crate::things::FindingId;

/// A finding is proposed from so many excerpts.
pub const LEAST_EXCERPTS: usize = 3;
/// And from what so many people said.
pub const LEAST_VOICES: usize = 2;
/// A suggested finding keeps its name where it shares at least this part of all excerpts of both with a new group.
const SAME: f64 = 0.3;

/// A finding that is there when a run begins. Excerpts are named by their place among those that are grouped.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Known {
    /// Its number.
    pub id: FindingId,
    /// Whether a person accepted it, threw it out, named it or used it: then a run takes nothing from it.
    pub kept: bool,
    /// Its excerpts; true where a person put it there.
    pub members: Vec<(usize, bool)>,
    /// The excerpts that a person said do not belong to it.
    pub never: Vec<usize>,
}

/// What people said of pairs of excerpts.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Pairs {
    /// They say the same.
    pub same: Vec<(usize, usize)>,
    /// They are never to stand together.
    pub apart: Vec<(usize, usize)>,
}

/// What a run would make.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Proposal {
    /// Findings, the largest first.
    pub findings: Vec<Proposed>,
    /// Suggested findings that nobody touched and that are no group any more.
    pub gone: Vec<FindingId>,
    /// Excerpts that belong nowhere.
    pub outside: Vec<usize>,
}

/// A group that a run would make a finding of, or the finding that it is already.
#[derive(Debug, Clone, PartialEq)]
pub struct Proposed {
    /// The finding that it is; nothing for a new one.
    pub finding: Option<FindingId>,
    /// Its excerpts, with how sure it is that each belongs there; nothing where a person put it there.
    pub members: Vec<(usize, Option<f32>)>,
}

/// Groups excerpts under what people decided, and tells what that would make of the findings. As [`super::group`], and O(excerpts ·
/// findings) besides. The same input gives the same outcome. Nothing where it is stopped; the watch goes on as for [`super::group_watched`].
///
/// - All excerpts of a finding that is kept stay with it, and so do those that a person put into any finding.
/// - Two findings that are kept are never made one.
/// - An excerpt that a person took out of a finding does not come back to it.
/// - A suggested finding keeps its number and name where most of it is a group again.
#[must_use]
pub fn propose(
    members: &[Member],
    known: &[Known],
    pairs: &Pairs,
    strictness: Strictness,
    watch: &Watch,
) -> Option<Proposal> {
    let blocks = Blocks::of(known, pairs);
    let groups = group_watched(members, &blocks.decided(known, pairs), strictness, watch)?;
    let all = by_group(&groups);
    let owners = owners(known, &blocks, &groups, &all);
    let mut proposal = Proposal::default();
    for (number, places) in &all {
        let owner = owners.get(number).map(|at| &known[*at]);
        let voices: BTreeSet<i64> = places.iter().map(|at| members[*at].voice).collect();
        if owner.is_none() && (places.len() < LEAST_EXCERPTS || voices.len() < LEAST_VOICES) {
            proposal.outside.extend(places);
            continue;
        }
        let (left, taken) =
            places.iter().partition::<Vec<usize>, _>(|at| owner.is_some_and(|one| one.never.contains(at)));
        proposal.outside.extend(left);
        let members = taken.into_iter().map(|at| (at, None)).collect();
        proposal.findings.push(Proposed { finding: owner.map(|one| one.id), members });
    }
    let found: BTreeSet<FindingId> = owners.values().map(|at| known[*at].id).collect();
    proposal.gone = known.iter().filter(|one| !one.kept && !found.contains(&one.id)).map(|one| one.id).collect();
    proposal.outside.sort_unstable();
    make_sure(members, known, &mut proposal, strictness);
    proposal
        .findings
        .sort_by_key(|one| (std::cmp::Reverse(one.members.len()), one.finding, one.members.first().map(|one| one.0)));
    Some(proposal)
}

/// Tells of each excerpt how sure it is that it belongs where it is, but for those that a person put there.
fn make_sure(members: &[Member], known: &[Known], proposal: &mut Proposal, strictness: Strictness) {
    let meaning = |at: usize| members[at].meaning();
    let of = |one: &Proposed| middle_of(one.members.iter().map(|(at, _)| meaning(*at)));
    let middles = proposal.findings.iter().enumerate().map(|(number, one)| (number, of(one))).collect();
    let nearest = Nearest::of(&middle_of(members.iter().map(|member| member.meaning())), middles, strictness);
    for (number, one) in proposal.findings.iter_mut().enumerate() {
        let owner = known.iter().find(|known| Some(known.id) == one.finding);
        let put: BTreeSet<usize> =
            owner.iter().flat_map(|one| &one.members).filter(|(_, by_person)| *by_person).map(|(at, _)| *at).collect();
        for (at, sure) in one.members.iter_mut().filter(|(at, _)| !put.contains(at)) {
            *sure = Some(sure_of(nearest.alike(&meaning(*at), number)));
        }
    }
}

/// Excerpts that people hold together.
struct Blocks {
    /// For each known finding its block, then those of pairs that say the same.
    blocks: Vec<Vec<usize>>,
}

impl Blocks {
    fn of(known: &[Known], pairs: &Pairs) -> Blocks {
        let mut taken: BTreeMap<usize, usize> = BTreeMap::new();
        let mut blocks: Vec<Vec<usize>> = Vec::new();
        for one in known {
            let held = one.members.iter().filter(|(_, by_person)| one.kept || *by_person).map(|(at, _)| *at);
            // One that stands in two findings counts for the first here; it stays in both.
            let mine: Vec<usize> = held.filter(|at| !taken.contains_key(at)).collect();
            taken.extend(mine.iter().map(|at| (*at, blocks.len())));
            blocks.push(mine);
        }
        for (one, other) in &pairs.same {
            match (taken.get(one).copied(), taken.get(other).copied()) {
                (None, None) => {
                    taken.extend([(*one, blocks.len()), (*other, blocks.len())]);
                    blocks.push(vec![*one, *other]);
                }
                (Some(block), None) => {
                    taken.insert(*other, block);
                    blocks[block].push(*other);
                }
                (None, Some(block)) => {
                    taken.insert(*one, block);
                    blocks[block].push(*one);
                }
                // Two blocks of no finding, or one of them, become one; two findings stay two.
                (Some(a), Some(b)) if a != b && a.max(b) >= known.len() => {
                    let (kept, gone) = (a.min(b), a.max(b));
                    let moved = std::mem::take(&mut blocks[gone]);
                    taken.extend(moved.iter().map(|at| (*at, kept)));
                    blocks[kept].extend(moved);
                }
                _ => {}
            }
        }
        Blocks { blocks }
    }

    /// An excerpt that stands for a known finding, where people hold any there.
    fn first(&self, known: usize) -> Option<usize> {
        self.blocks[known].first().copied()
    }

    fn decided(&self, known: &[Known], pairs: &Pairs) -> Decided {
        let mut apart = pairs.apart.clone();
        let firsts: Vec<usize> = (0..known.len()).filter_map(|at| self.first(at)).collect();
        for (at, one) in firsts.iter().enumerate() {
            apart.extend(firsts[..at].iter().map(|other| (*one, *other)));
        }
        for (at, one) in known.iter().enumerate() {
            apart.extend(
                self.first(at).into_iter().flat_map(|first| one.never.iter().map(move |never| (first, *never))),
            );
        }
        let together = self.blocks.iter().filter(|block| block.len() > 1).cloned().collect();
        Decided { together, apart }
    }
}

/// Which known finding each group is: that of the excerpts that people hold there, else the one that it shares most with.
fn owners(
    known: &[Known],
    blocks: &Blocks,
    groups: &[usize],
    all: &BTreeMap<usize, Vec<usize>>,
) -> BTreeMap<usize, usize> {
    let mut owners: BTreeMap<usize, usize> = BTreeMap::new();
    let mut alike = Vec::new();
    for (at, one) in known.iter().enumerate() {
        if let Some(first) = blocks.first(at) {
            owners.insert(groups[first], at);
            continue;
        }
        let mut shared: BTreeMap<usize, usize> = BTreeMap::new();
        one.members.iter().for_each(|(member, _)| *shared.entry(groups[*member]).or_default() += 1);
        for (group, shared) in shared {
            let either = one.members.len() + all[&group].len() - shared;
            alike.push((part(shared, either), at, group));
        }
    }
    alike.sort_by(|a, b| b.0.total_cmp(&a.0).then((a.1, a.2).cmp(&(b.1, b.2))));
    let mut named: BTreeSet<usize> = owners.values().copied().collect();
    for (share, at, group) in alike {
        if share >= SAME && !named.contains(&at) && !owners.contains_key(&group) {
            named.insert(at);
            owners.insert(group, at);
        }
    }
    owners
}

fn part(some: usize, all: usize) -> f64 {
    let float = |count| f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    if all == 0 { 0.0 } else { float(some) / float(all) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Vector;
    use proptest::prelude::*;

    /// Excerpts that lie around so many directions, in turns.
    fn around(directions: usize, count: usize) -> Vec<Member> {
        let of = |at: usize| {
            let mut numbers = vec![0.0; crate::text::DIMENSIONS];
            numbers[at % directions] = 1.0;
            numbers[directions + at] = 0.4;
            let mut member = Member::new(&Vector::pointing(numbers), [0.0; 7]);
            member.voice = i64::try_from(at).unwrap();
            member
        };
        (0..count).map(of).collect()
    }

    fn known(id: i64, kept: bool, members: &[usize]) -> Known {
        Known { id: FindingId(id), kept, members: members.iter().map(|at| (*at, false)).collect(), never: Vec::new() }
    }

    fn places(one: &Proposed) -> BTreeSet<usize> {
        one.members.iter().map(|(at, _)| *at).collect()
    }

    fn run(members: &[Member], known: &[Known], pairs: &Pairs) -> Proposal {
        propose(members, known, pairs, Strictness::Even, &Watch::default()).unwrap()
    }

    #[test]
    fn groups_become_findings_and_keep_their_names() {
        let members = around(3, 30);
        let first = run(&members, &[], &Pairs::default());
        assert_eq!(first.findings.len(), 3);
        assert!(first.findings.iter().all(|one| one.finding.is_none() && one.members.len() == 10));
        assert!(first.findings[0].members.iter().all(|(_, sure)| sure.is_some_and(|sure| sure > 0.4)));
        // One is known by most of its excerpts, another by few, and one stands for nothing any more.
        let there = [known(1, false, &[0, 3, 6, 9]), known(2, false, &[1, 2, 5]), known(3, false, &[29])];
        let again = run(&members, &there, &Pairs::default());
        let named: Vec<_> = again.findings.iter().filter_map(|one| Some((one.finding?, places(one).len()))).collect();
        assert_eq!(named, [(FindingId(1), 10)]);
        assert_eq!(again.gone, [FindingId(2), FindingId(3)]);
    }

    #[test]
    fn what_one_person_says_again_and_again_is_no_finding() {
        let mut members = around(2, 20);
        members.iter_mut().step_by(2).for_each(|member| member.voice = 0);
        let proposal = run(&members, &[], &Pairs::default());
        assert_eq!((proposal.findings.len(), proposal.outside.len()), (1, 10));
    }

    #[test]
    fn what_is_in_two_kept_findings_stays_two() {
        let members = around(2, 20);
        let there = [known(1, true, &[0, 2, 4]), known(2, true, &[6, 8])];
        let proposal = run(&members, &there, &Pairs::default());
        let of = |id: i64| places(proposal.findings.iter().find(|one| one.finding == Some(FindingId(id))).unwrap());
        assert!(of(1).is_superset(&[0, 2, 4].into()) && of(2).is_superset(&[6, 8].into()));
        assert!(of(1).is_disjoint(&of(2)));
        assert_eq!(proposal.gone, []);
    }

    fn some_known() -> impl Strategy<Value = Vec<Known>> {
        let one = (
            any::<bool>(),
            prop::collection::btree_map(0_usize..24, any::<bool>(), 0..8),
            prop::collection::btree_set(0_usize..24, 0..4),
        );
        prop::collection::vec(one, 0..5).prop_map(|all| {
            let mut taken = BTreeSet::new();
            let each = all.into_iter().zip(1..).map(|((kept, members, never), id)| {
                let members: Vec<_> = members.into_iter().filter(|(at, _)| taken.insert(*at)).collect();
                // Nobody says of the same excerpt that it belongs there and that it does not.
                let never = never.into_iter().filter(|at| members.iter().all(|(member, _)| member != at)).collect();
                Known { id: FindingId(id), kept, members, never }
            });
            each.collect()
        })
    }

    fn some_pairs() -> impl Strategy<Value = Pairs> {
        let pairs = || prop::collection::vec((0_usize..24, 0_usize..24), 0..4);
        (pairs(), pairs()).prop_map(|(same, apart)| Pairs { same, apart })
    }

    proptest! {
        #[test]
        fn a_run_undoes_nothing_that_a_person_decided(known in some_known(), pairs in some_pairs(), directions in 1_usize..6) {
            let members = around(directions, 24);
            let proposal = run(&members, &known, &pairs);
            prop_assert_eq!(&run(&members, &known, &pairs), &proposal);
            for one in &known {
                let found = proposal.findings.iter().find(|proposed| proposed.finding == Some(one.id));
                let held: BTreeSet<usize> = one.members.iter().filter(|(_, by_person)| one.kept || *by_person).map(|(at, _)| *at).collect();
                if !held.is_empty() {
                    prop_assert!(found.is_some_and(|found| places(found).is_superset(&held)), "{:?} of {:?}", found, one);
                    prop_assert!(!proposal.gone.contains(&one.id));
                }
                prop_assert!(!(one.kept && proposal.gone.contains(&one.id)));
                if let Some(found) = found {
                    prop_assert!(one.never.iter().all(|never| !places(found).contains(never)));
                    for (at, by_person) in &one.members {
                        let sure = found.members.iter().find(|(member, _)| member == at).map(|(_, sure)| sure.is_none());
                        prop_assert!(!by_person || sure == Some(true));
                    }
                }
            }
            // Each excerpt is somewhere once.
            let mut all: Vec<usize> = proposal.findings.iter().flat_map(|one| one.members.iter().map(|(at, _)| *at)).collect();
            all.extend(&proposal.outside);
            all.sort_unstable();
            prop_assert_eq!(all, (0..24).collect::<Vec<_>>());
            prop_assert!(proposal.findings.iter().all(|one| one.finding.is_some() || one.members.len() >= LEAST_EXCERPTS));
        }
    }
}
