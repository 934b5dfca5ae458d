use super::*;
use proptest::prelude::*;

/// A number between −1 and 1 that always comes out the same.
fn noise(seed: u64) -> f32 {
    let mixed = (seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (seed >> 7)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    f32::from(u16::try_from(mixed >> 48).unwrap()) / 32_768.0 - 1.0
}

/// Members in clouds: those of one cloud point about the same way.
fn clouds(count: usize, each: usize) -> (Vec<Member>, Vec<usize>) {
    let seed = |cloud: usize, at: usize, number: usize| (cloud * 7_919 + at * 104_729 + number * 1_299_709 + 1) as u64;
    let member = |cloud: usize, at: usize| {
        let numbers = (0..384).map(|number| noise(seed(cloud, 0, number)) + 0.5 * noise(seed(cloud, at + 1, number)));
        let mut kinds = [0.0; 7];
        kinds[cloud % 3] = 1.0;
        Member::new(&Vector::pointing(numbers.collect()), kinds)
    };
    let labels: Vec<usize> = (0..each).flat_map(|_| 0..count).collect();
    (labels.iter().enumerate().map(|(at, cloud)| member(*cloud, at)).collect(), labels)
}

#[test]
fn clouds_are_found_of_any_size() {
    let (members, labels) = clouds(6, 40);
    assert_eq!(group(&members, &Decided::default(), Strictness::Even), labels);
    assert_eq!(nearest_agree(&members, &labels), Some(1.0));
    // Ten times as many of one sort are one group still.
    let (members, labels) = clouds(2, 300);
    assert_eq!(group(&members, &Decided::default(), Strictness::Even), labels);
}

#[test]
fn nothing_and_one_are_grouped_too() {
    let (members, _) = clouds(1, 1);
    assert_eq!(group(&[], &Decided::default(), Strictness::Even), Vec::<usize>::new());
    assert_eq!(group(&members, &Decided::default(), Strictness::Strict), [0]);
    assert_eq!(nearest_agree(&members, &[0]), None);
}

#[test]
fn who_watches_sees_how_far_it_is_and_can_stop_it() {
    for count in [10, 400] {
        let (members, labels) = clouds(count, 10);
        let watch = Watch::default();
        assert_eq!(group_watched(&members, &Decided::default(), Strictness::Even, &watch), Some(labels));
        assert!((2 * members.len()..=STEPS * members.len()).contains(&watch.done()), "{}", watch.done());
        watch.stop();
        assert_eq!(group_watched(&members, &Decided::default(), Strictness::Even, &watch), None);
    }
}

#[test]
fn most_true_neighbours_are_found_among_many() {
    let (members, _) = clouds(400, 10);
    let members: Vec<&Member> = members.iter().collect();
    let points: Vec<Vec<f32>> = Sight::of(&members).points(&members).collect();
    let found = neighbours::nearest(&Points::of(points.iter().cloned()), 8, &Watch::default()).unwrap();
    let (mut hits, mut all) = (0_u32, 0_u32);
    for at in (0..points.len()).step_by(97) {
        let mut true_ones: Vec<(usize, f32)> = (0..points.len())
            .filter(|other| *other != at)
            .map(|other| (other, neighbours::alike(&points[at], &points[other])))
            .collect();
        true_ones.sort_by(|a, b| b.1.total_cmp(&a.1));
        for (other, _) in &true_ones[..8] {
            all += 1;
            hits += u32::from(found[at].iter().any(|(one, _)| one == other));
        }
    }
    assert!(f64::from(hits) > 0.9 * f64::from(all), "{hits} of {all}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(ProptestConfig::default().cases / 10))]

    #[test]
    fn what_people_decided_survives_a_run(
        first in prop::collection::btree_set(0_usize..30, 2..6),
        apart in prop::collection::vec((0_usize..30, 0_usize..30), 0..5),
        strictness in prop_oneof![Just(Strictness::Loose), Just(Strictness::Even), Just(Strictness::Strict)],
    ) {
        let (members, _) = clouds(5, 6);
        let second: Vec<usize> = (0..30).filter(|at| !first.contains(at)).step_by(7).collect();
        let together = vec![first.iter().copied().collect::<Vec<usize>>(), second];
        let decided = Decided { together, apart };
        let groups = group(&members, &decided, strictness);
        for all in &decided.together {
            prop_assert!(all.iter().all(|at| groups[*at] == groups[all[0]]));
        }
        for (one, other) in &decided.apart {
            let held = decided.together.iter().any(|all| all.contains(one) && all.contains(other));
            prop_assert!(one == other || held || groups[*one] != groups[*other]);
        }
        // The same input gives the same outcome, numbered from 0 in the order of first members.
        prop_assert_eq!(&group(&members, &decided, strictness), &groups);
        let mut next = 0;
        for group in &groups {
            prop_assert!(*group <= next);
            next = next.max(group + 1);
        }
    }
}
