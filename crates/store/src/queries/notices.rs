//! What people are told, what they follow, the outbox, and where they were. None of it is a change of a thing, so the ledger
//! keeps none of it.

use iron_kite_core::history::{Place, Visit};
use iron_kite_core::notice::{Lately, MessageState, Next, NoticeSort, Setting};
use iron_kite_core::things::{CommentId, ProductId, Thing, ThingKind};
use jiff::Timestamp;
use rusqlite::{OptionalExtension, Row, params};

use super::history::{ROW_CHANGE, RowChange, row_change};
use crate::error::{Error, Result};
use crate::ledger::ChangeSetId;
use crate::rows::Rows;
use crate::writer::Tx;

/// What somebody is told.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Notice {
    /// Its number.
    pub id: i64,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// Why.
    pub sort: NoticeSort,
    /// Of what.
    pub thing: Thing,
    /// The comment, where it is one.
    pub comment: Option<CommentId>,
    /// Who did it.
    pub by: Option<String>,
    /// What happened.
    pub words: String,
    /// How often since it was read last.
    pub times: i64,
    /// When it was read.
    pub read_at: Option<i64>,
}

/// A new notice.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewNotice {
    /// Whom it is for.
    pub user: i64,
    /// When.
    pub at: i64,
    /// Why.
    pub sort: NoticeSort,
    /// Of what.
    pub thing: Thing,
    /// The comment, where it is one.
    pub comment: Option<CommentId>,
    /// Who did it.
    pub by: Option<String>,
    /// What happened.
    pub words: String,
    /// The change set that it tells of.
    pub set: Option<ChangeSetId>,
    /// Whether it stands among what is unread.
    pub here: bool,
}

/// A message in the outbox.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Message {
    /// Its number.
    pub id: i64,
    /// To whom.
    pub to_name: String,
    /// Where.
    pub to_address: String,
    /// What it is about.
    pub subject: String,
    /// What it says.
    pub body: String,
    /// Where in the application it leads.
    pub path: String,
    /// Where it stands.
    pub state: MessageState,
    /// How often it was tried.
    pub tries: u32,
    /// When it was written, in milliseconds since 1970.
    pub made_at: i64,
    /// When it is tried next.
    pub next_at: i64,
    /// When it was sent or given up.
    pub ended_at: Option<i64>,
    /// What went wrong.
    pub problem: Option<String>,
}

/// A message that is to go out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewMessage {
    /// To whom; empty where only the address is known.
    pub to_name: String,
    /// Where.
    pub to_address: String,
    /// What it is about.
    pub subject: String,
    /// What it says.
    pub body: String,
    /// Where in the application it leads.
    pub path: String,
    /// When it was written, in milliseconds since 1970.
    pub made_at: i64,
}

/// A change set as far as those who follow it up must know it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SetSeen {
    /// Its number.
    pub id: ChangeSetId,
    /// When.
    pub at: i64,
    /// Who.
    pub user: Option<i64>,
    /// By what way.
    pub way: String,
    /// What it took back.
    pub undoes: Option<ChangeSetId>,
}

/// What a message has for a notice that tells of none.
pub(crate) const NO_NOTICE: i64 = 0;
const NOTICE: &str = "id, at, sort, kind, row_id, comment_id, by_name, words, times, read_at";
const MESSAGE: &str = "id, to_name, to_address, subject, body, path, state, tries, made_at, next_at, ended_at, problem";

fn notice(row: &Row<'_>) -> Result<Notice> {
    let kind: ThingKind = row.get::<_, String>(3)?.parse().map_err(Error::Refused)?;
    Ok(Notice {
        id: row.get(0)?,
        at: row.get(1)?,
        sort: NoticeSort::named(&row.get::<_, String>(2)?).unwrap_or(NoticeSort::Followed),
        thing: Thing::new(kind, row.get::<_, i64>(4)?),
        comment: row.get::<_, Option<i64>>(5)?.map(CommentId),
        by: row.get(6)?,
        words: row.get(7)?,
        times: row.get(8)?,
        read_at: row.get(9)?,
    })
}

fn message(row: &Row<'_>) -> rusqlite::Result<Message> {
    Ok(Message {
        id: row.get(0)?,
        to_name: row.get(1)?,
        to_address: row.get(2)?,
        subject: row.get(3)?,
        body: row.get(4)?,
        path: row.get(5)?,
        state: MessageState::named(&row.get::<_, String>(6)?),
        tries: row.get(7)?,
        made_at: row.get(8)?,
        next_at: row.get(9)?,
        ended_at: row.get(10)?,
        problem: row.get(11)?,
    })
}

impl Rows<'_> {
    /// Whether somebody follows a thing.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn follows(&self, user: i64, thing: Thing) -> Result<bool> {
        let sql = "SELECT follows FROM follow WHERE user_id = ?1 AND kind = ?2 AND row_id = ?3";
        let found: Option<i64> = self
            .connection
            .prepare_cached(sql)?
            .query_row(params![user, thing.kind.name(), thing.id], |row| row.get(0))
            .optional()?;
        Ok(found == Some(1))
    }

    /// Who followed a thing already when a change was made.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn followers(&self, thing: Thing, change: i64) -> Result<Vec<i64>> {
        let sql = "SELECT user_id FROM follow WHERE kind = ?1 AND row_id = ?2 AND follows = 1 AND since_change < ?3
                   ORDER BY user_id";
        let mut statement = self.connection.prepare_cached(sql)?;
        let found = statement.query_map(params![thing.kind.name(), thing.id, change], |row| row.get(0))?;
        Ok(found.collect::<rusqlite::Result<_>>()?)
    }

    /// What somebody was told: what is unread first, then the newest.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn notices(&self, user: i64, limit: usize) -> Result<Vec<Notice>> {
        let sql = format!(
            "SELECT {NOTICE} FROM notice WHERE user_id = ?1 ORDER BY read_at IS NOT NULL, at DESC, id DESC LIMIT {limit}"
        );
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([user])?;
        let mut found = Vec::new();
        while let Some(row) = rows.next()? {
            found.push(notice(row)?);
        }
        Ok(found)
    }

    /// How much of what somebody was told is unread.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unread_notices(&self, user: i64) -> Result<usize> {
        let sql = "SELECT count(*) FROM notice WHERE user_id = ?1 AND read_at IS NULL";
        let count: i64 = self.connection.prepare_cached(sql)?.query_row([user], |row| row.get(0))?;
        Ok(usize::try_from(count).unwrap_or_default())
    }

    /// What somebody chose to hear of.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn notice_settings(&self, user: i64) -> Result<Vec<Setting>> {
        let sql = "SELECT sort, here, by_mail FROM notice_setting WHERE user_id = ?1";
        let mut statement = self.connection.prepare_cached(sql)?;
        let found = statement.query_map([user], |row| Ok((row.get::<_, String>(0)?, row.get(1)?, row.get(2)?)))?;
        let found: Vec<(String, i64, i64)> = found.collect::<rusqlite::Result<_>>()?;
        Ok(found
            .into_iter()
            .filter_map(|(sort, here, by_mail)| {
                Some(Setting { sort: NoticeSort::named(&sort)?, here: here == 1, by_mail: by_mail == 1 })
            })
            .collect())
    }

    /// The newest messages of the outbox.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn messages(&self, limit: usize) -> Result<Vec<Message>> {
        let sql = format!("SELECT {MESSAGE} FROM message ORDER BY id DESC LIMIT {limit}");
        let mut statement = self.connection.prepare_cached(&sql)?;
        Ok(statement.query_map([], message)?.collect::<rusqlite::Result<_>>()?)
    }

    /// The message with this number.
    ///
    /// # Errors
    /// [`Error::NotFound`] where there is none.
    pub fn message(&self, id: i64) -> Result<Message> {
        let sql = format!("SELECT {MESSAGE} FROM message WHERE id = ?1");
        let found = self.connection.prepare_cached(&sql)?.query_row([id], message).optional()?;
        found.ok_or_else(|| Error::NotFound(format!("message {id}")))
    }

    /// The message that is to go out next, where one is due.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn due_message(&self, now: i64) -> Result<Option<Message>> {
        let sql = format!(
            "SELECT {MESSAGE} FROM message WHERE state = 'waiting' AND next_at <= ?1 ORDER BY next_at, id LIMIT 1"
        );
        Ok(self.connection.prepare_cached(&sql)?.query_row([now], message).optional()?)
    }

    /// How many messages were written to an address within the last hour and the last day.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn written_to(&self, address: &str, now: Timestamp) -> Result<Lately> {
        let sql = "SELECT count(*) FILTER (WHERE made_at > ?2 - 3600000), count(*) FROM message
                   WHERE to_address = ?1 COLLATE NOCASE AND made_at > ?2 - 86400000";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_row(params![address, now.as_millisecond()], |row| {
            Ok(Lately { hour: row.get(0)?, day: row.get(1)? })
        })?)
    }

    /// How often an address was asked within the last day whether it is the sender's.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn asked_of(&self, address: &str, now: Timestamp) -> Result<u32> {
        let sql = "SELECT count(*) FROM message
                   WHERE to_address = ?1 COLLATE NOCASE AND made_at > ?2 - 86400000 AND notice_id = ?3";
        let mut statement = self.connection.prepare_cached(sql)?;
        Ok(statement.query_row(params![address, now.as_millisecond(), NO_NOTICE], |row| row.get(0))?)
    }

    /// Up to which change people were told and rules applied.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn followed_up(&self) -> Result<i64> {
        let sql = "SELECT coalesce((SELECT change_id FROM afterwards), 0)";
        Ok(self.connection.prepare_cached(sql)?.query_row([], |row| row.get(0))?)
    }

    /// The next changes behind one, all of one set, with the set.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn changes_after(&self, after: i64, limit: usize) -> Result<Option<(SetSeen, Vec<RowChange>)>> {
        let sql = format!("SELECT {ROW_CHANGE} FROM change c WHERE c.id > ?1 ORDER BY c.id LIMIT {limit}");
        let mut statement = self.connection.prepare_cached(&sql)?;
        let mut rows = statement.query([after])?;
        let mut changes: Vec<RowChange> = Vec::new();
        while let Some(row) = rows.next()? {
            let change = row_change(row)?;
            if changes.first().is_some_and(|first| first.set != change.set) {
                break;
            }
            changes.push(change);
        }
        match changes.first() {
            Some(first) => Ok(Some((self.set_seen(first.set)?, changes))),
            None => Ok(None),
        }
    }

    /// A change set as far as those who follow it up must know it.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_seen(&self, set: ChangeSetId) -> Result<SetSeen> {
        let sql = "SELECT id, at, user_id, way, undoes FROM change_set WHERE id = ?1";
        Ok(self.connection.prepare_cached(sql)?.query_row([set], |row| {
            Ok(SetSeen { id: row.get(0)?, at: row.get(1)?, user: row.get(2)?, way: row.get(3)?, undoes: row.get(4)? })
        })?)
    }

    /// The present visit of somebody to a product.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn visit(&self, user: i64, product: ProductId) -> Result<Option<Visit>> {
        let sql = "SELECT began_at, seen_at, seen_change, before_at, before_change, places FROM visit
                   WHERE user_id = ?1 AND product_id = ?2";
        let found = self.connection.prepare_cached(sql)?.query_row(params![user, product.0], |row| {
            Ok((row.get(0)?, row.get(1)?, row.get(2)?, row.get(3)?, row.get(4)?, row.get::<_, String>(5)?))
        });
        let Some((began, seen, seen_change, before_at, before_change, places)) = found.optional()? else {
            return Ok(None);
        };
        let at = |ms: i64| Timestamp::from_millisecond(ms).unwrap_or(Timestamp::UNIX_EPOCH);
        let places: Vec<Place> = serde_json::from_str(&places)?;
        let before: Option<(i64, i64)> = Option::zip(before_at, before_change);
        let before = before.map(|(ms, change)| (at(ms), change));
        Ok(Some(Visit { began_at: at(began), seen_at: at(seen), seen_change, before, places }))
    }
}

impl Tx<'_> {
    /// Somebody hears of a thing from now on, unless they once said that they do not want to.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn begin_to_follow(&mut self, user: i64, thing: Thing) -> Result<()> {
        let sql =
            "INSERT OR IGNORE INTO follow(user_id, kind, row_id, follows, since_change) VALUES (?1, ?2, ?3, 1, ?4)";
        let newest = self.rows().newest_change()?;
        self.rows().connection.prepare_cached(sql)?.execute(params![user, thing.kind.name(), thing.id, newest])?;
        Ok(())
    }

    /// Whether somebody hears of a thing from now on.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_follow(&mut self, user: i64, thing: Thing, follows: bool) -> Result<()> {
        let sql = "INSERT INTO follow(user_id, kind, row_id, follows, since_change) VALUES (?1, ?2, ?3, ?4, ?5)
                   ON CONFLICT DO UPDATE SET follows = excluded.follows, since_change = excluded.since_change";
        let values = params![user, thing.kind.name(), thing.id, follows, self.rows().newest_change()?];
        self.rows().connection.prepare_cached(sql)?.execute(values)?;
        Ok(())
    }

    /// Tells somebody something. What changed on a thing that somebody follows stands in one notice until it is read. Gives
    /// the number of a notice that is a new one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_notice(&mut self, new: &NewNotice) -> Result<Option<i64>> {
        let connection = self.rows().connection;
        if new.sort == NoticeSort::Followed {
            let again =
                "UPDATE notice SET at = ?5, by_name = ?6, words = ?7, times = times + 1, set_id = ?8, comment_id = ?9
                 WHERE user_id = ?1 AND kind = ?2 AND row_id = ?3 AND sort = ?4 AND read_at IS NULL";
            let (kind, comment) = (new.thing.kind.name(), new.comment.map(|comment| comment.0));
            let values =
                params![new.user, kind, new.thing.id, new.sort.name(), new.at, new.by, new.words, new.set, comment];
            if connection.prepare_cached(again)?.execute(values)? > 0 {
                return Ok(None);
            }
        }
        let sql = "INSERT INTO notice(user_id, at, sort, kind, row_id, comment_id, by_name, words, set_id, read_at)
                   VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)";
        connection.prepare_cached(sql)?.execute(params![
            new.user,
            new.at,
            new.sort.name(),
            new.thing.kind.name(),
            new.thing.id,
            new.comment.map(|comment| comment.0),
            new.by,
            new.words,
            new.set,
            (!new.here).then_some(new.at),
        ])?;
        Ok(Some(connection.last_insert_rowid()))
    }

    /// Forgets what is unread of a change set that was taken back, and what was not sent of it yet.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn forget_notices(&mut self, set: ChangeSetId) -> Result<()> {
        let connection = self.rows().connection;
        let waiting = "DELETE FROM message WHERE state = 'waiting'
                       AND notice_id IN (SELECT id FROM notice WHERE set_id = ?1 AND times = 1)";
        connection.prepare_cached(waiting)?.execute([set])?;
        let unread = "DELETE FROM notice WHERE set_id = ?1 AND read_at IS NULL AND times = 1";
        connection.prepare_cached(unread)?.execute([set])?;
        Ok(())
    }

    /// Marks notices of somebody as read; all of them where none is named.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn read_notices(&mut self, user: i64, ids: &[i64], at: i64) -> Result<usize> {
        let sql = "UPDATE notice SET read_at = ?2 WHERE user_id = ?1 AND read_at IS NULL
                   AND (?3 = '[]' OR id IN (SELECT value FROM json_each(?3)))";
        let ids = serde_json::to_string(ids)?;
        Ok(self.rows().connection.prepare_cached(sql)?.execute(params![user, at, ids])?)
    }

    /// What somebody wants to hear of.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_notice_setting(&mut self, user: i64, setting: Setting) -> Result<()> {
        let sql = "INSERT INTO notice_setting(user_id, sort, here, by_mail) VALUES (?1, ?2, ?3, ?4)
                   ON CONFLICT DO UPDATE SET here = excluded.here, by_mail = excluded.by_mail";
        let values = params![user, setting.sort.name(), setting.here, setting.by_mail];
        self.rows().connection.prepare_cached(sql)?.execute(values)?;
        Ok(())
    }

    /// Puts a message into the outbox, of a notice where it tells of one.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn add_message(&mut self, notice: Option<i64>, new: &NewMessage) -> Result<i64> {
        let sql = "INSERT INTO message(notice_id, to_name, to_address, subject, body, path, state, made_at, next_at)
                   VALUES (?1, ?2, ?3, ?4, ?5, ?6, 'waiting', ?7, ?7)";
        let connection = self.rows().connection;
        connection.prepare_cached(sql)?.execute(params![
            notice.unwrap_or(NO_NOTICE),
            new.to_name,
            new.to_address,
            new.subject,
            new.body,
            new.path,
            new.made_at
        ])?;
        Ok(connection.last_insert_rowid())
    }

    /// Marks a message before it goes out. False where somebody else has it already.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn begin_to_send(&mut self, id: i64) -> Result<bool> {
        let sql = "UPDATE message SET state = 'sending', tries = tries + 1 WHERE id = ?1 AND state = 'waiting'";
        Ok(self.rows().connection.prepare_cached(sql)?.execute([id])? == 1)
    }

    /// Notes what came of sending a message.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn end_sending(&mut self, id: i64, next: &Next, now: i64) -> Result<()> {
        let sql =
            "UPDATE message SET state = ?2, next_at = coalesce(?3, next_at), ended_at = ?4, problem = ?5 WHERE id = ?1";
        let next_at = next.next_at.map(jiff::Timestamp::as_millisecond);
        let ended_at = next_at.is_none().then_some(now);
        let values = params![id, next.state.name(), next_at, ended_at, next.problem];
        self.rows().connection.prepare_cached(sql)?.execute(values)?;
        Ok(())
    }

    /// Messages that were going out when the program ended may have arrived.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn unsure_messages(&mut self, now: i64, problem: &str) -> Result<usize> {
        let sql = "UPDATE message SET state = 'unsure', ended_at = ?1, problem = ?2 WHERE state = 'sending'";
        Ok(self.rows().connection.prepare_cached(sql)?.execute(params![now, problem])?)
    }

    /// A message that was given up, or may have arrived, goes out again.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn send_again(&mut self, id: i64, now: i64) -> Result<bool> {
        let sql = "UPDATE message SET state = 'waiting', tries = 0, next_at = ?2, ended_at = NULL, problem = NULL
                   WHERE id = ?1 AND state IN ('failed', 'unsure')";
        Ok(self.rows().connection.prepare_cached(sql)?.execute(params![id, now])? == 1)
    }

    /// People were told and rules applied up to this change.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_followed_up(&mut self, change: i64) -> Result<()> {
        let sql = "INSERT INTO afterwards(one, change_id) VALUES (1, ?1) ON CONFLICT DO UPDATE SET change_id = excluded.change_id";
        self.rows().connection.prepare_cached(sql)?.execute([change])?;
        Ok(())
    }

    /// Notes where somebody is.
    ///
    /// # Errors
    /// Where the store fails.
    pub fn set_visit(&mut self, user: i64, product: ProductId, visit: &Visit) -> Result<()> {
        let sql = "INSERT OR REPLACE INTO visit(user_id, product_id, began_at, seen_at, seen_change, before_at, before_change, places)
                   VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)";
        self.rows().connection.prepare_cached(sql)?.execute(params![
            user,
            product.0,
            visit.began_at.as_millisecond(),
            visit.seen_at.as_millisecond(),
            visit.seen_change,
            visit.before.map(|(at, _)| at.as_millisecond()),
            visit.before.map(|(_, change)| change),
            serde_json::to_string(&visit.places)?,
        ])?;
        Ok(())
    }
}
