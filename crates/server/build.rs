//! The shipped front end is embedded from web/dist. Before it is built the folder is empty, so that
//! the program still compiles.

fn main() {
    println!("cargo::rerun-if-changed=../../web/dist");
    if let Err(fault) = std::fs::create_dir_all("../../web/dist") {
        println!("cargo::warning=web/dist could not be made: {fault}");
    }
}
