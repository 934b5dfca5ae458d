//! The kind of an excerpt, from cues of its form.

use super::FeedbackKind;
use crate::text::words;

/// A kind and the cues that speak for it, each with its weight.
struct Cues(FeedbackKind, &'static [(&'static str, f64)]);

/// Cues are words or short runs of words in lower case. Weights say how much a cue by itself
/// speaks for the kind; 1.0 is "usually".
const CUES: &[Cues] = &[
    Cues(
        FeedbackKind::Request,
        &[
            ("please add", 1.6),
            ("please let", 1.6),
            ("please make", 1.4),
            ("please", 0.6),
            ("would love", 1.2),
            ("i wish", 1.4),
            ("wish", 0.8),
            ("would like", 1.2),
            ("would be", 0.8),
            ("should", 0.9),
            ("could you", 1.0),
            ("can we have", 1.4),
            ("can we", 0.9),
            ("why not", 0.8),
            ("need a", 0.8),
            ("needs a", 0.8),
            ("want", 0.6),
            ("let me", 1.0),
            ("let us", 1.0),
            ("add", 0.6),
            ("if only", 1.0),
            ("it would help", 1.4),
            ("how about", 1.0),
            ("suggest", 1.0),
        ],
    ),
    Cues(
        FeedbackKind::Defect,
        &[
            ("crash", 1.4),
            ("crashes", 1.4),
            ("crashed", 1.4),
            ("broken", 1.2),
            ("bug", 1.2),
            ("error", 1.2),
            ("does not work", 1.6),
            ("doesn't work", 1.6),
            ("did not work", 1.6),
            ("didn't work", 1.6),
            ("not working", 1.6),
            ("won't open", 1.5),
            ("will not open", 1.5),
            ("never arrived", 1.3),
            ("never came", 1.3),
            ("never tells", 1.3),
            ("never told", 1.3),
            ("fails", 1.2),
            ("failed", 1.2),
            ("wrong", 1.0),
            ("blank", 0.9),
            ("frozen", 1.2),
            ("freezes", 1.2),
            ("charged twice", 1.6),
            ("still waiting", 1.0),
            ("no refund", 1.2),
            ("was full", 1.0),
            ("stopped working", 1.6),
            ("logged out", 0.9),
            ("lost my", 0.9),
            ("too late", 0.9),
            ("not there", 0.7),
            ("already left", 0.9),
            ("vanished", 1.2),
            ("disappeared", 1.2),
        ],
    ),
    Cues(
        FeedbackKind::Friction,
        &[
            ("confusing", 1.3),
            ("hard to", 1.3),
            ("difficult to", 1.3),
            ("slow", 1.1),
            ("takes ages", 1.4),
            ("too many", 1.1),
            ("too small", 1.3),
            ("can't find", 1.2),
            ("cannot find", 1.2),
            ("can't read", 1.2),
            ("cannot read", 1.2),
            ("cannot be read", 1.2),
            ("every time", 0.8),
            ("again and again", 1.0),
            ("have to", 0.7),
            ("had to", 0.7),
            ("annoying", 1.0),
            ("fiddly", 1.3),
            ("clumsy", 1.2),
            ("hidden", 1.0),
            ("hides", 1.0),
            ("unclear", 1.2),
            ("queue", 0.4),
            ("without notice", 0.8),
            ("on each leg", 0.9),
        ],
    ),
    Cues(
        FeedbackKind::HelpNeeded,
        &[
            ("how do i", 1.8),
            ("how can i", 1.8),
            ("how do you", 1.4),
            ("where do i", 1.7),
            ("where can i", 1.6),
            ("where is", 0.9),
            ("can i", 1.0),
            ("is there a way", 1.6),
            ("can somebody", 1.3),
            ("can someone", 1.3),
            ("help me", 1.2),
            ("do i need", 1.3),
            ("what does", 0.9),
            ("is it possible", 1.2),
        ],
    ),
    Cues(
        FeedbackKind::Praise,
        &[
            ("love", 1.1),
            ("lovely", 1.2),
            ("great", 1.0),
            ("brilliant", 1.2),
            ("excellent", 1.2),
            ("wonderful", 1.2),
            ("perfect", 1.0),
            ("thank you", 0.8),
            ("well done", 1.3),
            ("works well", 1.2),
            ("easy", 0.8),
            ("kind", 0.7),
            ("friendly", 1.1),
            ("helpful", 1.0),
            ("five stars", 1.2),
            ("best", 0.6),
            ("quick", 0.6),
            ("a joy", 1.3),
        ],
    ),
    Cues(
        FeedbackKind::Habit,
        &[
            ("i always", 1.4),
            ("we always", 1.4),
            ("i usually", 1.5),
            ("we usually", 1.5),
            ("every morning", 1.2),
            ("every day", 1.0),
            ("every week", 1.0),
            ("every friday", 1.2),
            ("each morning", 1.2),
            ("i photograph", 1.5),
            ("i take a photo", 1.5),
            ("i keep", 1.0),
            ("i check", 1.0),
            ("we take", 0.8),
            ("i phone", 1.1),
            ("i ring", 1.1),
            ("i print", 1.3),
            ("i screenshot", 1.4),
            ("twice a week", 1.1),
        ],
    ),
    Cues(
        FeedbackKind::Leaving,
        &[
            ("cancel my", 1.3),
            ("cancelled my pass", 1.6),
            ("deleted the app", 1.7),
            ("uninstalled", 1.7),
            ("water taxi", 1.2),
            ("last time", 1.0),
            ("never again", 1.5),
            ("won't be back", 1.6),
            ("will not be back", 1.6),
            ("switched to", 1.5),
            ("gave up", 1.1),
            ("given up", 1.1),
            ("stopped using", 1.6),
            ("not renewing", 1.6),
            ("won't renew", 1.6),
            ("moved to", 0.8),
            ("instead", 0.5),
        ],
    ),
];

/// How much a question mark speaks for a question, and the sentiment for a kind without cues.
const QUESTION: f64 = 0.5;
const CLEARLY_GOOD: f64 = 0.3;

/// The kind of an excerpt: the one whose cues weigh most.
///
/// Without any cue the sentiment decides: clearly good is praise, clearly bad is friction, and
/// what is neither is something that people do. Ties go to the kind that comes first in the list.
#[must_use]
pub fn kind_of(text: &str, sentiment: f64) -> FeedbackKind {
    let joined = format!(" {} ", words(text).join(" "));
    let mut best: Option<(f64, FeedbackKind)> = None;
    for Cues(kind, cues) in CUES {
        let mut weight: f64 = cues.iter().filter(|(cue, _)| joined.contains(&format!(" {cue} "))).map(|(_, w)| w).sum();
        if *kind == FeedbackKind::HelpNeeded && text.contains('?') {
            weight += QUESTION;
        }
        if *kind == FeedbackKind::Praise && sentiment <= 0.0 {
            weight = 0.0;
        }
        if weight > best.map_or(0.0, |(most, _)| most) {
            best = Some((weight, *kind));
        }
    }
    match best {
        Some((_, kind)) => kind,
        None if sentiment >= CLEARLY_GOOD => FeedbackKind::Praise,
        None if sentiment < 0.0 => FeedbackKind::Friction,
        None => FeedbackKind::Habit,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::listen::sentiment_of;

    /// Labelled by hand before the cues were written; none of the sentences is in the demo data.
    const LABELLED: [(&str, FeedbackKind); 21] = [
        ("Please add the small islands to the map.", FeedbackKind::Request),
        ("It would help to see the next boat too.", FeedbackKind::Request),
        ("You should send a text when it is windy.", FeedbackKind::Request),
        ("The ticket page crashes when I turn the phone.", FeedbackKind::Defect),
        ("Scanner said error and I was sent back.", FeedbackKind::Defect),
        ("My receipt never arrived.", FeedbackKind::Defect),
        ("Charged twice for one car.", FeedbackKind::Defect),
        ("The letters are too small on the pier.", FeedbackKind::Friction),
        ("It is hard to tell which day is chosen.", FeedbackKind::Friction),
        ("Buying a ticket takes ages.", FeedbackKind::Friction),
        ("How do I move my booking to Sunday?", FeedbackKind::HelpNeeded),
        ("Where can I park a trailer?", FeedbackKind::HelpNeeded),
        ("Is there a way to pay by invoice?", FeedbackKind::HelpNeeded),
        ("Lovely crew, as always.", FeedbackKind::Praise),
        ("Boarding was quick and easy, well done.", FeedbackKind::Praise),
        ("I always buy two tickets for the week.", FeedbackKind::Habit),
        ("Every morning I check the wind first.", FeedbackKind::Habit),
        ("I print the booking for my mother.", FeedbackKind::Habit),
        ("I deleted the app after that.", FeedbackKind::Leaving),
        ("We switched to the plane.", FeedbackKind::Leaving),
        ("That was the last time for us.", FeedbackKind::Leaving),
    ];

    #[test]
    fn most_sentences_that_a_person_labelled_get_the_same_kind() {
        let wrong: Vec<_> = LABELLED.iter().filter(|(text, kind)| kind_of(text, sentiment_of(text)) != *kind).collect();
        assert!(wrong.len() <= 1, "{wrong:?}");
    }

    #[test]
    fn a_cue_inside_a_longer_word_is_none() {
        assert_ne!(kind_of("The address is fine.", 0.0), FeedbackKind::Request);
    }
}
