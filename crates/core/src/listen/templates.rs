//! Kinds of research to begin a study with: how it is done, what it finds out, and a guide to change.

use serde::Serialize;

use super::study::{GuideQuestion, questions_of};

/// A kind of research.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StudyTemplate {
    /// How it is named in addresses.
    pub key: &'static str,
    /// What people call it.
    pub name: &'static str,
    /// When it is the right one.
    pub fits: &'static str,
    /// With how many people, and how long.
    pub size: &'static str,
    /// The trade's word for the method.
    pub method: &'static str,
    /// What it finds out, to be made one's own.
    pub question: &'static str,
    /// What is asked, as markdown.
    pub guide: &'static str,
}

impl StudyTemplate {
    /// The questions of the guide.
    #[must_use]
    pub fn questions(&self) -> Vec<GuideQuestion> {
        questions_of(self.guide)
    }
}

macro_rules! template {
    ($key:literal, $name:literal, $method:literal, $size:literal, $fits:literal, $question:literal) => {
        StudyTemplate {
            key: $key,
            name: $name,
            fits: $fits,
            size: $size,
            method: $method,
            question: $question,
            guide: include_str!(concat!("guides/", $key, ".md")),
        }
    };
}

/// The kinds of research that come with the product.
pub const STUDY_TEMPLATES: [StudyTemplate; 10] = [
    template!(
        "problem",
        "Talk about a problem",
        "interview",
        "6 to 8 people, 45 minutes each",
        "You have a complaint and do not know yet what is behind it.",
        "What do people try to get done, what stands in their way, and what do they do instead?"
    ),
    template!(
        "last_time",
        "The last time it happened",
        "retrospective interview",
        "5 to 7 people, 40 minutes each",
        "You want facts and not opinions: what somebody did, hour by hour, the last time.",
        "What happened the last time, step by step, and where did it begin to go wrong?"
    ),
    template!(
        "watching",
        "Watching the work",
        "observation",
        "3 to 5 visits of half a day",
        "People cannot tell you what they do, because their hands do it.",
        "How is the work really done, with which things, and in whose company?"
    ),
    template!(
        "trying",
        "Trying a design",
        "usability test",
        "5 to 8 people, 30 minutes each",
        "You have something to click and want to see where people hesitate.",
        "Can people do what they came for, and where do they stop, guess or turn back?"
    ),
    template!(
        "sorting",
        "Their words for things",
        "card sort",
        "10 to 15 people, 25 minutes each",
        "A menu, a list or a form uses words of yours, and people look in the wrong place.",
        "Which things belong together for the people who look for them, and what do they call them?"
    ),
    template!(
        "diary",
        "Two weeks of notes",
        "diary study",
        "8 to 12 people, 14 days",
        "It happens now and then, at home or on the way, and nobody remembers it on Friday.",
        "When does it come up during two ordinary weeks, and what do people do in that minute?"
    ),
    template!(
        "leaving",
        "Why they left",
        "exit interview",
        "6 to 10 people, 30 minutes each",
        "People stop using it, and the reason that they tick in a form says nothing.",
        "What happened between the day they were content and the day they left?"
    ),
    template!(
        "first_days",
        "The first days",
        "first-use study",
        "5 to 6 people, twice 30 minutes",
        "New people give up before it is of use to them.",
        "What do people expect before the first use, and what do they still not know a week later?"
    ),
    template!(
        "worth",
        "What it is worth",
        "value interview",
        "8 to 10 people, 40 minutes each",
        "You think of a price, a plan or a paid extra.",
        "What does the trouble cost people today, and what would they give to be rid of it?"
    ),
    template!(
        "those_who_help",
        "Those who help them",
        "expert interview",
        "3 to 5 people, 45 minutes each",
        "Somebody at a counter or on a telephone hears more in a week than you in a year.",
        "What do people ask for again and again, and how is it solved without us?"
    ),
];

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_has_enough_to_begin_with() {
        for template in STUDY_TEMPLATES {
            let questions = template.questions();
            let sections: std::collections::BTreeSet<_> = questions.iter().map(|one| &one.section).collect();
            assert!(questions.len() >= 8, "{}: {}", template.key, questions.len());
            assert!(sections.len() >= 3 && !sections.contains(&None), "{}", template.key);
            assert!(questions.iter().all(|one| one.words.chars().count() <= 240), "{}", template.key);
        }
    }

    #[test]
    fn no_two_are_the_same() {
        for (n, one) in STUDY_TEMPLATES.iter().enumerate() {
            for other in STUDY_TEMPLATES.iter().skip(n + 1) {
                assert_ne!(one.key, other.key);
                assert_ne!(one.name, other.name);
                let same = one.questions().iter().filter(|question| other.questions().contains(question)).count();
                assert!(same <= 1, "{} and {} ask the same {same} times", one.key, other.key);
            }
        }
    }
}
