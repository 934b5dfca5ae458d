//! The program as it is started, asked over HTTP.

mod bad_input;
mod bring_in;
mod channels;
mod command;
mod described;
mod durable;
mod files_out;
mod guard;
mod hostile;
mod live;
mod open;
mod post;
mod reading;
mod retrieval;
mod roles;
mod writes;
