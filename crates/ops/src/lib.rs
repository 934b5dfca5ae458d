//! The use cases of Iron Kite. Each opens one transaction, asks for one right and knows the moment.
//!
//! There are two ways in to the store, [`App::read`] and [`App::write`]; both ask for a right, so no
//! use case can forget it. One folder for each stage, one file for each subject:
//! [`listen`], [`decide`], [`specify`], [`map`], [`plan`], [`handover`], [`learn`]. Beside them:
//! [`start`] (the first owner), [`people`] (sign in), [`keys`] (links that work once, tokens of programs), [`workspace`] (products, size), [`things`] (edit, remove and link anything), [`history`] (undo and redo),
//! [`talk`] (comments), [`notice`] (who is told of what, the outbox), [`rules`] (what runs by itself), [`afterwards`] (what
//! follows a change), [`opening`] (the opening page), [`trace`], [`collections`] (fields, rows, views of any collection), [`jobs`] (long work in the background), [`reader`] (what files hold that people gave), [`overview`] (products and the counts on the course), [`takeout`] (files out and in).

pub mod afterwards;
pub mod attachments;
mod call;
pub mod collections;
pub mod decide;
mod files;
pub mod handover;
pub mod history;
pub mod jobs;
pub mod keys;
pub mod learn;
pub mod listen;
pub mod map;
pub mod notice;
pub mod opening;
pub mod outside;
pub mod overview;
mod passwords;
pub mod people;
pub mod plan;
pub mod reader;
pub mod rules;
mod sealed;
pub mod specify;
pub mod start;
pub mod takeout;
pub mod talk;
pub mod things;
pub mod trace;
pub mod workspace;

pub use call::{Actor, App, Call, Saved};
