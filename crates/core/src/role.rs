//! Roles and what each may do. The check itself is made in one place, by the use cases.

use serde::{Deserialize, Serialize};

/// What a person is in a workspace. Each role may do all that the one below it may.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Reads.
    Viewer,
    /// Brings in feedback, finds, and suggests ideas.
    Contributor,
    /// Decides, specifies, plans and hands over.
    Editor,
    /// Also adds people and moves whole workspaces.
    Owner,
}

impl Role {
    /// All roles, from the least to the most.
    pub const ALL: [Role; 4] = [Role::Viewer, Role::Contributor, Role::Editor, Role::Owner];

    /// The name in the store, the API and the interface.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Role::Viewer => "viewer",
            Role::Contributor => "contributor",
            Role::Editor => "editor",
            Role::Owner => "owner",
        }
    }

    /// Whether this role has the right.
    #[must_use]
    pub fn may(self, right: Right) -> bool {
        self >= right.least()
    }
}

impl std::str::FromStr for Role {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        Role::ALL
            .into_iter()
            .find(|role| role.name() == text)
            .ok_or_else(|| format!("'{text}' is no role; take viewer, contributor, editor or owner"))
    }
}

/// What a use case asks for. Each right holds all those before it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Right {
    /// Look at anything.
    Read,
    /// Bring in feedback, make and mend findings, suggest ideas.
    Listen,
    /// Change anything along the line.
    Edit,
    /// Take in or give out the whole workspace, manage people.
    Own,
}

impl Right {
    /// All rights, from the least to the most.
    pub const ALL: [Right; 4] = [Right::Read, Right::Listen, Right::Edit, Right::Own];

    /// Its place among [`Right::ALL`], by which the store keeps it.
    #[must_use]
    pub fn rank(self) -> u8 {
        self as u8
    }

    /// The least role that has this right.
    #[must_use]
    pub fn least(self) -> Role {
        match self {
            Right::Read => Role::Viewer,
            Right::Listen => Role::Contributor,
            Right::Edit => Role::Editor,
            Right::Own => Role::Owner,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_role_may_what_the_one_below_may_and_something_more() {
        let rights = [Right::Read, Right::Listen, Right::Edit, Right::Own];
        for (n, role) in Role::ALL.into_iter().enumerate() {
            let held: Vec<bool> = rights.iter().map(|r| role.may(*r)).collect();
            let expected: Vec<bool> = (0..4).map(|r| r <= n).collect();
            assert_eq!(held, expected, "{role:?}");
        }
    }
}
