//! The lists of things of one sort that can be looked at as tables, columns, timelines and so on.

use serde::{Deserialize, Serialize};

use crate::things::ThingKind;

macro_rules! collections {
    ($($name:ident, $many:literal, $stage:literal, $title:literal;)*) => {
        /// A list of things of one sort. Its name is that of the kind of thing.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Collection {
            $(#[doc = $many] $name,)*
        }

        impl Collection {
            /// All collections, in the order of the line.
            pub const ALL: &'static [Collection] = &[$(Collection::$name),*];

            /// The kind of thing that it holds.
            #[must_use]
            pub fn kind(self) -> ThingKind {
                match self { $(Collection::$name => ThingKind::$name),* }
            }

            /// The word for people.
            #[must_use]
            pub fn words(self) -> &'static str {
                match self { $(Collection::$name => $many),* }
            }

            /// The stage where its views stand.
            #[must_use]
            pub fn stage(self) -> &'static str {
                match self { $(Collection::$name => $stage),* }
            }

            /// The field that a thing is called by in lists and on cards.
            #[must_use]
            pub fn title_field(self) -> &'static str {
                match self { $(Collection::$name => $title),* }
            }
        }
    };
}

collections! {
    FeedbackItem, "feedback", "listen", "text";
    Excerpt, "excerpts", "listen", "words";
    Finding, "findings", "listen", "title";
    Person, "people", "listen", "name";
    Account, "accounts", "listen", "name";
    Objective, "objectives", "decide", "title";
    Idea, "ideas", "decide", "title";
    Increment, "increments", "decide", "title";
    Request, "requests", "decide", "words";
    RequestForm, "request forms", "decide", "title";
    CompetitorNote, "competitor notes", "decide", "words";
    WorkItem, "work items", "specify", "title";
    Release, "releases", "plan", "title";
    Study, "studies", "listen", "title";
    Document, "requirements documents", "specify", "title";
    Sprint, "sprints", "plan", "title";
    Page, "pages", "specify", "title";
    Term, "terms", "listen", "name";
}

impl Collection {
    /// The collection of this kind of thing, where there is one.
    #[must_use]
    pub fn of(kind: ThingKind) -> Option<Self> {
        Self::ALL.iter().copied().find(|collection| collection.kind() == kind)
    }

    /// Whether its things belong to one product; people and accounts belong to the workspace.
    #[must_use]
    pub fn is_of_product(self) -> bool {
        !matches!(self, Collection::Person | Collection::Account)
    }
}

impl std::fmt::Display for Collection {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.kind().name())
    }
}
