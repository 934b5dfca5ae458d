#![no_main]

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| iron_kite_fuzz::holds("t.md", bytes));
