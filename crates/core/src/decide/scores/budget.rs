//! Which ideas to take within a budget of effort: musts first, then the most value, with what they need.
//!
//! The exact optimum by branch and bound where it is proven within a limit of steps, else the best that was found and how
//! far it may be from the best there is. The bound is that of the knapsack whose items can be cut (G. Dantzig 1957) and
//! which may ignore what needs what.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use crate::specify::Moscow;
use crate::things::IdeaId;

/// After so many steps the search ends with what it has.
const STEPS: usize = 400_000;
/// Values closer than this are the same.
const SAME: f64 = 1e-9;

/// An idea that may be taken.
#[derive(Debug, Clone, PartialEq)]
pub struct Item {
    /// The idea.
    pub idea: IdeaId,
    /// What it is worth, 0 or more.
    pub worth: f64,
    /// What it costs, 0 or more.
    pub cost: f64,
    /// Whether it is taken in any case.
    pub must: bool,
    /// Whether it is not for this time.
    pub wont: bool,
    /// The ideas that it needs.
    pub needs: Vec<IdeaId>,
}

impl Item {
    /// An idea as it may be taken; nothing where nobody knows what it costs, or what it is worth and it is no must. A must is
    /// taken whatever it is worth.
    #[must_use]
    pub fn of(
        idea: IdeaId,
        moscow: Option<Moscow>,
        worth: Option<f64>,
        cost: Option<f64>,
        needs: Vec<IdeaId>,
    ) -> Option<Self> {
        let must = moscow == Some(Moscow::Must);
        let worth = if must { worth.unwrap_or(0.0) } else { worth? };
        Some(Item { idea, worth: worth.max(0.0), cost: cost?, must, wont: moscow == Some(Moscow::Wont), needs })
    }
}

/// A choice within a budget.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Affordable {
    /// What is taken, as the items came.
    pub taken: Vec<IdeaId>,
    /// What it is worth.
    pub worth: f64,
    /// What it costs.
    pub cost: f64,
}

/// What a budget affords.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Affording {
    /// The best choice that was found.
    pub best: Affordable,
    /// Whether no choice is better.
    pub proven: bool,
    /// No choice is worth more than this.
    pub bound: f64,
    /// The simple choice beside it: from the most worth for its cost downwards, as long as it fits.
    pub greedy: Affordable,
    /// What the musts and all that they need cost alone.
    pub musts_cost: f64,
    /// Ideas that cannot be taken: what they need is not there, not for this time, or needs them in turn.
    pub blocked: Vec<IdeaId>,
}

/// The trade's rule of thumb: musts are no more than so much of a budget.
const MUSTS: f64 = 0.6;

/// What is to be known of the musts before a budget is spent, in words: that they exceed it, or leave too little that could give
/// way.
#[must_use]
pub fn of_musts(told: &Affording, budget: f64) -> Option<String> {
    let (cost, share) = (told.musts_cost, told.musts_cost / budget.max(f64::MIN_POSITIVE));
    if cost > budget {
        let over = cost - budget;
        Some(format!(
            "The musts alone, with what they need, take {cost:.1} of {budget:.1} person-weeks: {over:.1} over."
        ))
    } else if share > MUSTS {
        Some(format!(
            "The musts take {:.0} % of the budget; by the trade’s rule of thumb it is at most {:.0} %, so that something can give way.",
            share * 100.0,
            MUSTS * 100.0
        ))
    } else {
        None
    }
}

/// What a budget of `budget` affords. Musts and what they need are taken even where they exceed it; then nothing else is.
/// O(n²) for each of at most 400,000 steps; a hundred ideas without much that needs other things take some
/// milliseconds.
#[must_use]
pub fn afford(items: &[Item], budget: f64) -> Affording {
    let set = Set::new(items);
    let musts: BTreeSet<usize> =
        (0..items.len()).filter(|at| items[*at].must).filter_map(|at| set.closure(at)).flatten().copied().collect();
    let musts_cost: f64 = musts.iter().map(|at| items[*at].cost).sum();
    let blocked =
        (0..items.len()).filter(|at| set.closure(*at).is_none() && !items[*at].wont).map(|at| items[at].idea).collect();
    let open: Vec<usize> = set.by_density.iter().copied().filter(|at| !musts.contains(at)).collect();
    let mut search =
        Search { set: &set, open, budget, best: BTreeSet::new(), best_worth: 0.0, steps: 0, left_bound: 0.0 };
    let greedy = search.greedy(&musts, musts_cost);
    search.best_worth = set.worth(&greedy);
    search.best.clone_from(&greedy);
    let worth: f64 = set.worth(&musts);
    if musts_cost <= budget {
        let mut out = BTreeSet::new();
        search.go(0, &mut musts.clone(), &mut out, worth, musts_cost);
    }
    let proven = search.steps < STEPS;
    let best_worth = search.best_worth;
    let bound = if proven { best_worth } else { search.left_bound.max(best_worth) };
    Affording { best: set.told(&search.best), proven, bound, greedy: set.told(&greedy), musts_cost, blocked }
}

/// What would be taken and dropped if one idea were taken in any case, beside what is taken now. Nothing where it cannot be
/// taken, or with what it needs costs more than the budget leaves beside the musts.
#[must_use]
pub fn dropped_for(items: &[Item], budget: f64, now: &Affordable, idea: IdeaId) -> Option<(Affordable, Vec<IdeaId>)> {
    let forced: Vec<Item> =
        items.iter().map(|one| Item { must: one.must || one.idea == idea, ..one.clone() }).collect();
    let with = afford(&forced, budget);
    if with.musts_cost > budget || !with.best.taken.contains(&idea) {
        return None;
    }
    let dropped = now.taken.iter().copied().filter(|one| !with.best.taken.contains(one)).collect();
    Some((with.best, dropped))
}

/// The items with what they need, all the way down.
struct Set<'a> {
    items: &'a [Item],
    /// With itself; nothing where it cannot be taken.
    closures: Vec<Option<BTreeSet<usize>>>,
    /// What needs it, all the way up, without itself.
    needed_by: Vec<BTreeSet<usize>>,
    /// Those that can be taken, by worth for their cost, best first.
    by_density: Vec<usize>,
}

impl<'a> Set<'a> {
    fn new(items: &'a [Item]) -> Self {
        let place = |idea: &IdeaId| items.iter().position(|one| one.idea == *idea);
        let needs: Vec<Vec<Option<usize>>> = items.iter().map(|one| one.needs.iter().map(place).collect()).collect();
        let own: Vec<Option<BTreeSet<usize>>> = (0..items.len()).map(|at| closure(items, &needs, at)).collect();
        let fits = |all: &BTreeSet<usize>| all.iter().all(|under| own[*under].is_some());
        let closures: Vec<Option<BTreeSet<usize>>> =
            own.iter().map(|all| all.clone().filter(|all| fits(all))).collect();
        let mut needed_by = vec![BTreeSet::new(); items.len()];
        for (at, all) in closures.iter().enumerate() {
            for under in all.iter().flatten().filter(|under| **under != at) {
                needed_by[*under].insert(at);
            }
        }
        let density = |at: &usize| items[*at].worth / items[*at].cost.max(SAME);
        let mut by_density: Vec<usize> = (0..items.len()).filter(|at| closures[*at].is_some()).collect();
        by_density.sort_by(|a, b| density(b).total_cmp(&density(a)).then(items[*a].idea.cmp(&items[*b].idea)));
        Set { items, closures, needed_by, by_density }
    }

    fn closure(&self, at: usize) -> Option<&BTreeSet<usize>> {
        self.closures[at].as_ref()
    }

    fn worth(&self, taken: &BTreeSet<usize>) -> f64 {
        taken.iter().map(|at| self.items[*at].worth).sum()
    }

    fn told(&self, taken: &BTreeSet<usize>) -> Affordable {
        Affordable {
            taken: taken.iter().map(|at| self.items[*at].idea).collect(),
            worth: self.worth(taken),
            cost: taken.iter().map(|at| self.items[*at].cost).sum(),
        }
    }
}

/// All that an item needs and itself; nothing where something is missing, or it would need itself.
fn closure(items: &[Item], needs: &[Vec<Option<usize>>], at: usize) -> Option<BTreeSet<usize>> {
    let mut all = BTreeSet::new();
    let mut next = vec![at];
    while let Some(one) = next.pop() {
        if items[one].wont {
            return None;
        }
        if all.insert(one) {
            for need in &needs[one] {
                let need = (*need)?;
                if need == at {
                    return None;
                }
                next.push(need);
            }
        }
    }
    Some(all)
}

struct Search<'a> {
    set: &'a Set<'a>,
    /// What may be taken or not, best for its cost first.
    open: Vec<usize>,
    budget: f64,
    best: BTreeSet<usize>,
    best_worth: f64,
    steps: usize,
    /// The best bound of what was left unsearched.
    left_bound: f64,
}

impl Search<'_> {
    /// From the most worth for the cost of it and all that it still needs, as long as something fits.
    fn greedy(&self, musts: &BTreeSet<usize>, musts_cost: f64) -> BTreeSet<usize> {
        let (mut taken, mut cost) = (musts.clone(), musts_cost);
        loop {
            let mut best: Option<(f64, f64, Vec<usize>)> = None;
            for at in self.open.iter().filter(|at| !taken.contains(at)) {
                let more: Vec<usize> = self.missing(*at, &taken);
                let price: f64 = more.iter().map(|one| self.set.items[*one].cost).sum();
                let worth: f64 = more.iter().map(|one| self.set.items[*one].worth).sum();
                let density = worth / price.max(SAME);
                if cost + price <= self.budget + SAME
                    && worth > 0.0
                    && best.as_ref().is_none_or(|(other, ..)| density > *other)
                {
                    best = Some((density, price, more));
                }
            }
            let Some((_, price, more)) = best else { return taken };
            taken.extend(more);
            cost += price;
        }
    }

    fn missing(&self, at: usize, taken: &BTreeSet<usize>) -> Vec<usize> {
        self.set.closure(at).into_iter().flatten().copied().filter(|one| !taken.contains(one)).collect()
    }

    fn go(&mut self, at: usize, taken: &mut BTreeSet<usize>, out: &mut BTreeSet<usize>, worth: f64, cost: f64) {
        if worth > self.best_worth + SAME {
            self.best_worth = worth;
            self.best.clone_from(taken);
        }
        let bound = self.bound(at, taken, out, worth, cost);
        if bound <= self.best_worth + SAME {
            return;
        }
        if self.steps >= STEPS {
            self.left_bound = self.left_bound.max(bound);
            return;
        }
        self.steps += 1;
        let Some(next) =
            (at..self.open.len()).find(|n| !taken.contains(&self.open[*n]) && !out.contains(&self.open[*n]))
        else {
            return;
        };
        let item = self.open[next];
        let more = self.missing(item, taken);
        let price: f64 = more.iter().map(|one| self.set.items[*one].cost).sum();
        if cost + price <= self.budget + SAME && more.iter().all(|one| !out.contains(one)) {
            let gain: f64 = more.iter().map(|one| self.set.items[*one].worth).sum();
            taken.extend(more.iter().copied());
            self.go(next + 1, taken, out, worth + gain, cost + price);
            taken.retain(|one| !more.contains(one));
        }
        // Without it, nothing that needs it.
        let gone: Vec<usize> = std::iter::once(item)
            .chain(self.set.needed_by[item].iter().copied())
            .filter(|one| out.insert(*one))
            .collect();
        self.go(next + 1, taken, out, worth, cost);
        out.retain(|one| !gone.contains(one));
    }

    /// As if the last item that is taken could be cut, and nothing needed anything.
    fn bound(&self, at: usize, taken: &BTreeSet<usize>, out: &BTreeSet<usize>, worth: f64, cost: f64) -> f64 {
        let (mut bound, mut left) = (worth, self.budget - cost);
        for item in &self.open[at..] {
            if taken.contains(item) || out.contains(item) {
                continue;
            }
            let one = &self.set.items[*item];
            if one.cost <= left {
                bound += one.worth;
                left -= one.cost;
            } else {
                return bound + one.worth * (left / one.cost).max(0.0);
            }
        }
        bound
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn item(idea: i64, worth: f64, cost: f64, needs: &[i64]) -> Item {
        let needs = needs.iter().map(|id| IdeaId(*id)).collect();
        Item { idea: IdeaId(idea), worth, cost, must: false, wont: false, needs }
    }

    fn ids(choice: &Affordable) -> Vec<i64> {
        choice.taken.iter().map(|one| one.0).collect()
    }

    #[test]
    fn the_optimum_beats_the_simple_choice() {
        // The densest leaves no room for the two that fill the budget.
        let items = [item(1, 60.0, 5.0, &[]), item(2, 50.0, 5.0, &[]), item(3, 70.0, 5.5, &[])];
        let told = afford(&items, 10.0);
        assert_eq!((ids(&told.best), told.proven), (vec![1, 2], true));
        assert_eq!((ids(&told.greedy), told.greedy.worth), (vec![3], 70.0));
        assert_eq!(told.bound, 110.0);
    }

    #[test]
    fn what_is_needed_comes_along_and_musts_come_first() {
        let mut items =
            vec![item(1, 100.0, 4.0, &[2]), item(2, 0.0, 4.0, &[]), item(3, 40.0, 4.0, &[]), item(4, 1.0, 3.0, &[])];
        assert_eq!(ids(&afford(&items, 8.0).best), [1, 2]);
        assert_eq!(ids(&afford(&items, 7.0).best), [3, 4]);
        items[3].must = true;
        let told = afford(&items, 8.0);
        assert_eq!((ids(&told.best), told.musts_cost), (vec![3, 4], 3.0));
        // More musts than the budget holds are told, not cut.
        items[2].must = true;
        let told = afford(&items, 5.0);
        assert_eq!((ids(&told.best), told.musts_cost), (vec![3, 4], 7.0));
    }

    #[test]
    fn musts_are_told_where_they_leave_too_little() {
        let mut items = vec![item(1, 1.0, 6.0, &[]), item(2, 1.0, 4.0, &[])];
        items[0].must = true;
        let told = |budget| of_musts(&afford(&items, budget), budget);
        assert_eq!(told(10.0), None, "six of ten is what the rule allows");
        assert!(told(9.0).unwrap().starts_with("The musts take 67 % of the budget"));
        assert!(told(5.0).unwrap().contains("6.0 of 5.0 person-weeks: 1.0 over"));
        assert!(told(0.0).is_some());
    }

    #[test]
    fn an_item_needs_a_cost_and_a_worth_unless_it_is_a_must() {
        let of = |moscow, worth, cost| Item::of(IdeaId(1), moscow, worth, cost, vec![]);
        assert_eq!(of(None, None, Some(1.0)), None);
        assert_eq!(of(Some(Moscow::Must), None, None), None);
        assert_eq!(of(Some(Moscow::Must), None, Some(1.0)).map(|one| (one.must, one.worth)), Some((true, 0.0)));
        assert_eq!(of(Some(Moscow::Wont), Some(-3.0), Some(1.0)).map(|one| (one.wont, one.worth)), Some((true, 0.0)));
    }

    #[test]
    fn what_cannot_be_taken_is_named() {
        let mut items = vec![
            item(1, 9.0, 1.0, &[2]),
            item(2, 9.0, 1.0, &[1]),
            item(3, 5.0, 1.0, &[77]),
            item(4, 5.0, 1.0, &[5]),
            item(5, 5.0, 1.0, &[]),
        ];
        items[4].wont = true;
        let told = afford(&items, 10.0);
        assert_eq!(told.best, Affordable::default());
        assert_eq!(told.blocked.iter().map(|one| one.0).collect::<Vec<_>>(), [1, 2, 3, 4]);
    }

    #[test]
    fn taking_one_in_says_what_it_costs() {
        let items =
            [item(1, 60.0, 5.0, &[]), item(2, 50.0, 5.0, &[]), item(3, 30.0, 6.0, &[]), item(4, 1.0, 20.0, &[])];
        let now = afford(&items, 11.0).best;
        let (with, dropped) = dropped_for(&items, 11.0, &now, IdeaId(3)).unwrap();
        assert_eq!((ids(&with), dropped), (vec![1, 3], vec![IdeaId(2)]));
        assert!(dropped_for(&items, 11.0, &now, IdeaId(4)).is_none());
    }

    fn some_items() -> impl Strategy<Value = (Vec<Item>, f64)> {
        let one = (0..100u32, 1..20u32, prop::collection::vec(0..10usize, 0..2), any::<u8>());
        (prop::collection::vec(one, 1..11), 0..80u32).prop_map(|(all, budget)| {
            let items = all.into_iter().enumerate().map(|(n, (worth, cost, needs, sort))| {
                // Only earlier ones are needed, so that most can be taken; now and then a later one.
                let needs = needs
                    .into_iter()
                    .filter(|need| *need < n || sort % 7 == 0)
                    .map(|need| IdeaId(i64::try_from(need).unwrap()))
                    .collect();
                Item {
                    idea: IdeaId(i64::try_from(n).unwrap()),
                    worth: f64::from(worth),
                    cost: f64::from(cost),
                    must: sort < 20,
                    wont: sort > 240,
                    needs,
                }
            });
            (items.collect(), f64::from(budget))
        })
    }

    /// Every choice there is, looked at one by one.
    fn brute_force(items: &[Item], budget: f64, musts: &[IdeaId]) -> f64 {
        let mut best: f64 = 0.0;
        for choice in 0..1u32 << items.len() {
            let taken: Vec<&Item> =
                items.iter().enumerate().filter(|(n, _)| choice >> n & 1 == 1).map(|(_, one)| one).collect();
            let has = |idea: &IdeaId| taken.iter().any(|one| one.idea == *idea);
            let whole = taken.iter().all(|one| !one.wont && one.needs.iter().all(has));
            let cost: f64 = taken.iter().map(|one| one.cost).sum();
            if whole && musts.iter().all(has) && cost <= budget {
                best = best.max(taken.iter().map(|one| one.worth).sum());
            }
        }
        best
    }

    proptest! {
        #[test]
        fn it_is_the_best_of_all_and_never_below_the_simple_choice((items, budget) in some_items()) {
            // Two that need one another can be taken by nobody; brute force would take both at once.
            let told = afford(&items, budget);
            let free: Vec<Item> = items.iter().map(|one| Item { wont: one.wont || told.blocked.contains(&one.idea), ..one.clone() }).collect();
            let musts: Vec<IdeaId> = free.iter().filter(|one| one.must && !one.wont).map(|one| one.idea).collect();
            prop_assert!(told.proven);
            prop_assert!(told.best.worth >= told.greedy.worth);
            prop_assert!(told.bound >= told.best.worth);
            if told.musts_cost <= budget {
                prop_assert_eq!(told.best.worth, brute_force(&free, budget, &musts));
                prop_assert!(told.best.cost <= budget);
            } else {
                prop_assert!((told.best.cost - told.musts_cost).abs() < 1e-9);
            }
        }
    }
}
