//! Comments on things, and where the words of comments stand now.

use iron_kite_core::talk::{Comment, Passage};
use iron_kite_core::things::{CommentId, TeamId, Thing};
use rusqlite::params;

use crate::error::Result;
use crate::rows::Rows;
use crate::writer::Tx;

/// A comment on words of a text that may have changed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unsettled {
    /// The comment.
    pub comment: Comment,
    /// The text as it was before the change; nothing where the comment itself has just come.
    pub before: Option<String>,
}

impl Rows<'_> {
    /// All comments on a thing, oldest first.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn comments_on(&self, thing: Thing) -> Result<Vec<Comment>> {
        self.list("WHERE on_kind = ?1 AND on_id = ?2 ORDER BY id", params![thing.kind.name(), thing.id])
    }

    /// How many comments on a thing are not dealt with, answers not counted.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn open_comments(&self, thing: Thing) -> Result<i64> {
        let sql = "SELECT count(*) FROM comment WHERE on_kind = ?1 AND on_id = ?2 AND reply_to IS NULL AND resolved_at IS NULL";
        Ok(self.connection.prepare_cached(sql)?.query_row(params![thing.kind.name(), thing.id], |row| row.get(0))?)
    }

    /// The number of the newest change in the ledger; 0 where there is none.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn newest_change(&self) -> Result<i64> {
        let sql = "SELECT coalesce(max(id), 0) FROM change";
        Ok(self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?)
    }

    /// Comments on words of texts that changed after a change of the ledger, and such comments that came since.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unsettled_passages(&self, after: i64) -> Result<Vec<Unsettled>> {
        let some = "SELECT EXISTS (SELECT 1 FROM comment WHERE field IS NOT NULL)";
        if !self.connection.prepare_cached(some)?.query_row([], |row| row.get(0))? {
            return Ok(Vec::new());
        }
        // The words of an excerpt's comment stand in the text of its item.
        let sql = "SELECT m.id, min(c.id), c.before ->> m.field FROM change c
              JOIN comment m ON m.on_kind = c.kind AND m.on_id = c.row_id AND m.field IS NOT NULL
              WHERE c.id > ?1 AND c.kind <> 'excerpt' AND c.before ->> m.field IS NOT NULL GROUP BY m.id
            UNION ALL SELECT m.id, min(c.id), c.before ->> m.field FROM change c
              JOIN excerpt e ON e.item_id = c.row_id JOIN comment m ON m.on_kind = 'excerpt' AND m.on_id = e.id AND m.field IS NOT NULL
              WHERE c.id > ?1 AND c.kind = 'feedback_item' AND c.before ->> m.field IS NOT NULL GROUP BY m.id
            UNION ALL SELECT m.id, c.id, NULL FROM change c JOIN comment m ON m.id = c.row_id AND m.field IS NOT NULL
              WHERE c.id > ?1 AND c.kind = 'comment' AND c.before IS NULL AND m.from_char IS NULL";
        let mut statement = self.connection.prepare_cached(sql)?;
        let found = statement.query_map([after], |row| Ok((row.get::<_, i64>(0)?, row.get(2)?)))?;
        let found: Vec<(i64, Option<String>)> = found.collect::<rusqlite::Result<_>>()?;
        found.into_iter().map(|(id, before)| Ok(Unsettled { comment: self.get(CommentId(id))?, before })).collect()
    }

    /// Who belongs to a team, by number.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn team_people(&self, team: TeamId) -> Result<Vec<i64>> {
        let mut statement =
            self.connection.prepare_cached("SELECT user_id FROM membership WHERE team_id = ?1 ORDER BY user_id")?;
        Ok(statement.query_map([team.0], |row| row.get(0))?.collect::<rusqlite::Result<_>>()?)
    }

    /// The membership of somebody in a team.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn memberships(&self, team: TeamId) -> Result<Vec<(i64, i64)>> {
        let mut statement = self.connection.prepare_cached("SELECT id, user_id FROM membership WHERE team_id = ?1")?;
        Ok(statement.query_map([team.0], |row| Ok((row.get(0)?, row.get(1)?)))?.collect::<rusqlite::Result<_>>()?)
    }
}

impl Tx<'_> {
    /// Notes where the words of a comment stand now; nowhere where they are lost, and then how they were seen last stays. It
    /// follows from the texts, so the ledger keeps none of it.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn place_passage(&mut self, comment: CommentId, passage: Option<&Passage>) -> Result<()> {
        let set = self.without_ledger();
        let sql = "UPDATE comment SET from_char = ?2, to_char = ?3, near_before = coalesce(?4, near_before),
                   near_after = coalesce(?5, near_after) WHERE id = ?1";
        let at = |place: usize| i64::try_from(place).unwrap_or(i64::MAX);
        let done = self.rows().connection.prepare_cached(sql).and_then(|mut statement| {
            statement.execute(params![
                comment.0,
                passage.map(|one| at(one.span.from)),
                passage.map(|one| at(one.span.to)),
                passage.map(|one| one.before.as_str()),
                passage.map(|one| one.after.as_str()),
            ])
        });
        self.with_ledger(set);
        done?;
        Ok(())
    }
}
