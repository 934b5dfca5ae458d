//! Iron Kite over HTTP and on the command line. Thin: decode, call one use case, encode.
//!
//! | file | what it does |
//! |---|---|
//! | `command` | the command line |
//! | `serve` | the HTTP server: middleware, limits, addresses |
//! | `desk` | who asks, and use cases off the async threads |
//! | `audit`, `floods` | the security log, and what is refused over and over |
//! | `passing` | large files that pass through, on the disk |
//! | `guard` | who sends, before what is sent; bodies bounded in size and time |
//! | `tries`, `hashers` | how often somebody may try, and the few threads that hash passwords |
//! | `health` | whether it works, for whoever watches it |
//! | `problem` | problems as `application/problem+json` |
//! | `memory` | gives back what is let go of |
//! | `live` | changes as server-sent events |
//! | `outside/` | channels: folders, mail boxes, and places over the network |
//! | `reader/` | files of people, read in a process of its own |
//! | `assets` | the front end inside the binary |
//! | `demo` | the demo data, played through the use cases |
//! | `evaluate` | measures of the engine on labelled files |
//! | `routes/` | the API, one file for each stage |

mod assets;
mod audit;
mod backups;
pub mod command;
mod demo;
mod desk;
mod evaluate;
mod floods;
mod fresh;
mod guard;
mod health;
mod kinds;
mod live;
mod memory;
mod outside;
mod passing;
mod problem;
mod reader;
mod routes;
mod serve;
mod tries;
mod workers;

pub use demo::load as load_demo;
pub use reader::{Apart, serve as serve_reader};
pub use routes::openapi;
