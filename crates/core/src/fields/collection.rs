//! The lists of things of one sort that can be looked at as tables, columns, timelines and so on.

use serde::{Deserialize, Serialize};

use crate::kind::{List, WayToProduct};
use crate::things::ThingKind;

macro_rules! collections {
    ($($name:ident,)*) => {
        /// A list of things of one sort. Its name is that of the kind of thing.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Collection {
            $(#[doc = concat!("See [`ThingKind::", stringify!($name), "`].")] $name,)*
        }

        impl Collection {
            /// All collections, in the order of the line.
            pub const ALL: &'static [Collection] = &[$(Collection::$name),*];

            /// The kind of thing that it holds.
            #[must_use]
            pub const fn kind(self) -> ThingKind {
                match self { $(Collection::$name => ThingKind::$name),* }
            }
        }
    };
}

collections! {
    FeedbackItem,
    Excerpt,
    Finding,
    Person,
    Account,
    Objective,
    Idea,
    Increment,
    Request,
    RequestForm,
    CompetitorNote,
    WorkItem,
    Release,
    Study,
    Document,
    Sprint,
    Page,
    Term,
}

impl Collection {
    /// The collection of this kind of thing, where there is one.
    #[must_use]
    pub fn of(kind: ThingKind) -> Option<Self> {
        Self::ALL.iter().copied().find(|collection| collection.kind() == kind)
    }

    /// How it is shown.
    fn list(self) -> List {
        self.kind().description().list.unwrap_or(List { heading: "", title: "title" })
    }

    /// The word for its things.
    #[must_use]
    pub fn words(self) -> &'static str {
        self.kind().description().plural
    }

    /// The field that a thing is called by in lists and on cards.
    #[must_use]
    pub fn title_field(self) -> &'static str {
        self.list().title
    }

    /// The stage where its views stand.
    #[must_use]
    pub fn stage(self) -> &'static str {
        self.kind().description().stage.name()
    }

    /// Whether its things belong to one product; people and accounts belong to the workspace.
    #[must_use]
    pub fn is_of_product(self) -> bool {
        self.kind().description().product != WayToProduct::Workspace
    }
}

impl std::fmt::Display for Collection {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.kind().name())
    }
}
