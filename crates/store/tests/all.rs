//! The store on files of its own.

mod collections;
mod engine;
mod erase;
mod hierarchy;
mod kinds;
mod ledger;
mod roll_ups;
mod side_by_side;
mod upkeep;
mod writer;
