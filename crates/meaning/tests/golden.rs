//! The vectors are those of another program.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]

use iron_kite_core::text::Vector;
use iron_kite_meaning::{Encoder, Threads};
use serde_json::Value;

/// Sentences with their tokens and vectors, from an unrounded model run by Python's onnxruntime.
fn golden(file: &str) -> Vec<(String, Vec<i32>, Vector)> {
    let all: Value = serde_json::from_str(file).unwrap();
    let one = |one: &Value| {
        let numbers = |name: &str| one[name].as_array().unwrap().clone();
        let ids = numbers("ids").iter().map(|id| i32::try_from(id.as_i64().unwrap()).unwrap()).collect();
        #[expect(clippy::cast_possible_truncation, reason = "written with five digits")]
        let vector = numbers("vector").iter().map(|x| x.as_f64().unwrap() as f32).collect();
        (one["text"].as_str().unwrap().to_owned(), ids, Vector::pointing(vector))
    };
    all.as_array().unwrap().iter().map(one).collect()
}

/// Each sentence has the right tokens; how alike its vector is to the right one at least, and on average.
fn compared(model: &Encoder, file: &str) -> (f32, f32) {
    let golden = golden(file);
    let texts: Vec<&str> = golden.iter().map(|(text, ..)| text.as_str()).collect();
    let vectors = model.vectors(&texts).unwrap();
    let alike = |((text, ids, right), told): (&(String, Vec<i32>, Vector), &Vector)| {
        assert_eq!(&model.tokens(text).unwrap(), ids, "{text}");
        right.alike(told)
    };
    let alike: Vec<f32> = golden.iter().zip(&vectors).map(alike).collect();
    let count = f32::from(u8::try_from(alike.len()).unwrap());
    (alike.iter().copied().fold(1.0, f32::min), alike.iter().sum::<f32>() / count)
}

#[test]
fn vectors_are_those_of_another_program() {
    let (least, mean) = compared(&Encoder::quick(&Threads::new(2)).unwrap(), include_str!("golden.json"));
    assert!(least > 0.995 && mean > 0.999, "{least} {mean}");
}

#[test]
fn what_sees_more_in_whole_numbers_is_near_to_what_it_was() {
    let (least, mean) = compared(&Encoder::close(&Threads::new(2)).unwrap(), include_str!("golden_close.json"));
    assert!(least > 0.95 && mean > 0.985, "{least} {mean}");
}

/// How some sentences are said, by the layers before their weights were rounded, run by the program that tuned them.
#[test]
fn tones_are_those_of_the_program_that_tuned_them() {
    let golden: Vec<Value> = serde_json::from_str(include_str!("golden_tone.json")).unwrap();
    let texts: Vec<&str> = golden.iter().map(|one| one["text"].as_str().unwrap()).collect();
    let heard = Encoder::quick(&Threads::new(2)).unwrap().heard(&texts).unwrap();
    let mut apart = Vec::new();
    for (right, told) in golden.iter().zip(&heard) {
        let right = right["tone"].as_array().unwrap().iter().map(|x| x.as_f64().unwrap());
        apart.extend(right.zip(told.tone.numbers()).map(|(right, told)| (right - f64::from(told)).abs()));
    }
    let count = f64::from(u16::try_from(apart.len()).unwrap());
    let (most, mean) = (apart.iter().copied().fold(0.0, f64::max), apart.iter().sum::<f64>() / count);
    assert!(apart.len() >= 80 && most < 0.1 && mean < 0.01, "{} numbers, {most} {mean}", apart.len());
}

#[test]
fn what_stands_beside_a_text_does_not_matter() {
    for model in [Encoder::quick(&Threads::new(1)).unwrap(), Encoder::close(&Threads::new(1)).unwrap()] {
        alone_as_together(&model);
    }
}

fn alone_as_together(model: &Encoder) {
    let long = "The boat that I take every morning was full again and so I stood there. ".repeat(40);
    let texts = ["", "The boat was late.", long.as_str(), "👍", "渡船晚点了"];
    let together = model.vectors(&texts).unwrap();
    assert_eq!(together.len(), texts.len());
    for (text, vector) in texts.iter().zip(&together) {
        assert!(model.vectors(&[text]).unwrap()[0].alike(vector) > 0.9999, "{text}");
    }
    assert_eq!(model.vectors(&[]).unwrap(), []);
}
