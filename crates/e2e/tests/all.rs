//! The real interface, driven in a headless browser: one program, so that two browsers are always at work.

mod bring_in;
mod checking;
mod collections;
mod decide;
mod findings;
mod hands;
mod keys;
mod line;
mod scores;
mod studies;
mod talk;
mod together;
mod views;
mod web;
mod words;
mod workspace;
