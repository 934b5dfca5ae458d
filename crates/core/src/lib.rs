//! The rules and the computation of Iron Kite.
//!
//! Nothing here reads a clock, a file, the environment or the network, and nothing here is random:
//! moments, seeds and bytes are arguments. So every rule can be tested by itself.
//!
//! One folder for each stage of the work, and in it one file for each rule:
//!
//! | stage | what is computed there |
//! |---|---|
//! | [`listen`] | items become excerpts with a kind and a sentiment; a file of feedback becomes rows |
//! | [`decide`] | scores, ranking, and how many people, accounts and how much revenue stand behind a thing |
//! | [`specify`] | epics, stories and their acceptance criteria |
//! | [`map`] | places on a story map |
//! | [`plan`] | progress, the order of releases, cycles and wrong order among dependencies |
//! | [`handover`] | the ready check, the roadmap by quarter, a team's queue |
//! | [`learn`] | what a result says |
//!
//! Beside the stages, what all of them share: [`talk`] (comments, and the words that they are on), [`notice`] (who is told
//! of what, and when a message is tried again), [`rules`] (what runs by itself), [`history`] (changes in words), and: [`trace`] (links and roll-ups along the line), [`fields`] (what may be edited
//! and how it is checked), [`formats`] (open formats, bytes to values and back), [`text`]
//! (sentences and words), [`things`] (kinds, ids and short references), [`kind`] (what each kind of thing is), [`role`] (who may do what)
//! and [`problem`] (what can go wrong, in words that say what to do).

pub mod decide;
pub mod fields;
pub mod formats;
pub mod handover;
pub mod history;
pub mod jobs;
pub mod kind;
pub mod learn;
pub mod listen;
pub mod map;
pub mod notice;
pub mod plan;
pub mod problem;
pub mod role;
pub mod rules;
pub mod specify;
pub mod talk;
pub mod text;
pub mod things;
pub mod trace;
pub mod workspace;
