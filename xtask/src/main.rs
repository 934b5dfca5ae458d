//! The commands of the project. `cargo xtask help` lists them.

mod docs;
mod fuzz;
mod run;
mod tasks;

use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Parser, Subcommand};

#[derive(Parser)]
#[command(about = "The commands of the project.")]
struct Cli {
    #[command(subcommand)]
    task: Task,
}

#[derive(Subcommand)]
enum Task {
    /// Build everything and start it with the demo data.
    Demo {
        /// The port to listen at.
        #[arg(long, default_value_t = 7420)]
        port: u16,
        /// The folder of the demo workspace; a new temporary one where left out.
        #[arg(long)]
        data: Option<PathBuf>,
    },
    /// Build the front end and the program.
    Build {
        /// Build what is shipped: one binary with the front end inside.
        #[arg(long)]
        release: bool,
    },
    /// Run all tests, those in the browser too.
    Test,
    /// Try what must hold for any input on many more cases, by chance: other ones each time. Takes long.
    Laws {
        /// How many cases for a law of core; one whose case takes long is tried on a share of them.
        #[arg(default_value_t = 1_000)]
        cases: u32,
    },
    /// Formatting, lints, types, and that what is generated is up to date.
    Check,
    /// Write anew what is generated: the description of the API and the client's types.
    Generate,
    /// Take the pictures of the README from the demo data.
    Screenshots,
    /// Feed every reader of files with what a search for new paths makes of sound ones. Takes long.
    Fuzz {
        /// How many seconds for each target.
        #[arg(long, default_value_t = 600)]
        seconds: u32,
        /// The targets; all where left out.
        targets: Vec<String>,
    },
    /// Measure, each thing as a ratio to a plain way of doing it in the same run.
    Bench {
        /// A part and how many: `import`, `loopback`, `collections`, `findings`, `window`, `reading`, `scores`, `files` or `attack`, and a
        /// number; all where left out.
        what: Vec<String>,
    },
}

fn main() -> ExitCode {
    let done = match Cli::parse().task {
        Task::Demo { port, data } => tasks::demo(port, data),
        Task::Build { release } => tasks::build(release),
        Task::Test => tasks::test(),
        Task::Laws { cases } => tasks::laws(cases),
        Task::Check => tasks::check(),
        Task::Generate => tasks::generate(),
        Task::Screenshots => tasks::screenshots(),
        Task::Fuzz { seconds, targets } => fuzz::fuzz(seconds, &targets),
        Task::Bench { what } => tasks::bench(&what),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(words) => {
            run::say(&format!("xtask: {words}"));
            ExitCode::FAILURE
        }
    }
}
