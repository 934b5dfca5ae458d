//! What the front end reckons by itself, without a page: its tests stand beside it in `web/tests`.

use std::path::Path;
use std::process::Command;

#[test]
fn what_the_front_end_reckons_by_itself_is_right() {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web");
    // A test that never ends fails.
    let done = Command::new("timeout")
        .args(["120", "node", "--test-reporter=spec", "tests/run.mjs"])
        .current_dir(web)
        .output()
        .expect("Node.js is there; install it with: apt-get install nodejs npm");
    let told = String::from_utf8_lossy(&done.stdout);
    assert!(done.status.success(), "{told}\n{}", String::from_utf8_lossy(&done.stderr));
    // An empty run succeeds as well.
    assert!(told.contains("a block that was copied is pasted as it was"), "no tests were run:\n{told}");
}
