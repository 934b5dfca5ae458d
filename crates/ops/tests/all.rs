//! Use cases on workspaces of their own.

mod attachments;
mod checking;
mod closer;
mod collections;
mod common;
mod decide;
mod grouping;
mod history;
mod line;
mod market;
mod mending;
mod notices;
mod pages;
mod people;
mod people_said;
mod pictures;
mod reading;
mod recordings;
mod report;
mod requests;
mod rules;
mod scores;
mod splitting;
mod studies;
mod takeout;
mod talk;
