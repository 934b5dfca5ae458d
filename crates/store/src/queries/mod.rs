//! What the stages ask for, one file each: methods of [`crate::Rows`] and [`crate::Tx`].

pub mod attachments;
pub mod channels;
pub mod checking;
pub mod collections;
pub mod decide;
pub mod engine;
pub mod fields;
pub mod findings;
pub mod handover;
pub mod history;
pub mod jobs;
pub mod learn;
pub mod line;
pub mod listen;
pub mod notices;
pub mod opening;
pub mod overview;
pub mod passages;
pub mod people;
pub mod pictures;
pub mod rules;
pub mod search;
pub mod splits;
pub mod talk;
pub mod trace;
pub mod views;
