//! The vectors are those of another program.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::text::{Meaning, Vector};
use iron_kite_meaning::MiniLm;
use serde_json::Value;

/// Sentences with their tokens and vectors, from the unrounded model run by Python's onnxruntime.
fn golden() -> Vec<(String, Vec<i32>, Vector)> {
    let all: Value = serde_json::from_str(include_str!("golden.json")).unwrap();
    let one = |one: &Value| {
        let numbers = |name: &str| one[name].as_array().unwrap().clone();
        let ids = numbers("ids").iter().map(|id| i32::try_from(id.as_i64().unwrap()).unwrap()).collect();
        #[expect(clippy::cast_possible_truncation, reason = "written with five digits")]
        let vector = numbers("vector").iter().map(|x| x.as_f64().unwrap() as f32).collect();
        (one["text"].as_str().unwrap().to_owned(), ids, Vector::pointing(vector))
    };
    all.as_array().unwrap().iter().map(one).collect()
}

#[test]
fn vectors_are_those_of_another_program() {
    let model = MiniLm::load(2).unwrap();
    let golden = golden();
    let texts: Vec<&str> = golden.iter().map(|(text, ..)| text.as_str()).collect();
    let vectors = model.vectors(&texts).unwrap();
    let mut sum = 0.0;
    for ((text, ids, right), told) in golden.iter().zip(&vectors) {
        assert_eq!(&model.tokens(text).unwrap(), ids, "{text}");
        let alike = right.alike(told);
        assert!(alike > 0.995, "{text}: {alike}");
        sum += f64::from(alike);
    }
    let mean = sum / f64::from(u32::try_from(golden.len()).unwrap());
    assert!(mean > 0.999, "{mean}");
}

#[test]
fn what_stands_beside_a_text_does_not_matter() {
    let model = MiniLm::load(1).unwrap();
    let long = "The boat that I take every morning was full again and so I stood there. ".repeat(40);
    let texts = ["", "The boat was late.", long.as_str(), "👍", "渡船晚点了"];
    let together = model.vectors(&texts).unwrap();
    assert_eq!(together.len(), texts.len());
    for (text, vector) in texts.iter().zip(&together) {
        assert!(model.vectors(&[text]).unwrap()[0].alike(vector) > 0.9999, "{text}");
    }
    assert_eq!(model.vectors(&[]).unwrap(), []);
}
