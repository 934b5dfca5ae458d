#![no_main]

use iron_kite_core::formats::workspace::{contents, rows};

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if contents(bytes).is_ok() {
        let _ = rows(bytes, |_| true, |_, _| Ok::<(), String>(()));
    }
});
