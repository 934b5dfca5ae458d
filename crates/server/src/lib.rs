//! Iron Kite over HTTP and on the command line. Thin: decode, call one use case, encode.
//!
//! | file | what it does |
//! |---|---|
//! | `command` | the command line |
//! | `serve` | the HTTP server: middleware, limits, addresses |
//! | `desk` | who asks, and use cases off the async threads |
//! | `problem` | problems as `application/problem+json` |
//! | `live` | changes as server-sent events |
//! | `outside/` | channels: folders, mail boxes, and places over the network |
//! | `assets` | the front end inside the binary |
//! | `demo` | the demo data, played through the use cases |
//! | `evaluate` | measures of the engine on labelled files |
//! | `routes/` | the API, one file for each stage |

mod assets;
pub mod command;
mod demo;
mod desk;
mod evaluate;
mod live;
mod outside;
mod problem;
mod routes;
mod serve;

pub use demo::load as load_demo;
pub use routes::openapi;
