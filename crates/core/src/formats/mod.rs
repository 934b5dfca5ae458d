//! Open formats: from bytes to values and back. No file is touched here.

pub mod blocks;
pub mod calendar;
pub mod cells;
pub mod days;
pub mod media;
pub mod numbers;
pub mod release_markdown;
pub mod roadmap_markdown;
pub mod sheet;
pub mod stories_csv;
pub mod table;
pub mod workspace;
