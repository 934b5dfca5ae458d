//! The program `iron-kite`.

use std::process::ExitCode;

fn main() -> ExitCode {
    iron_kite::command::run()
}
