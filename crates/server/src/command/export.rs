//! `iron-kite export`: what goes out, into a file or to standard output.

use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::{Path, PathBuf};

use clap::{Args, Subcommand, ValueEnum};
use iron_kite_core::fields::{Collection, Query, ViewDefinition, first_views};
use iron_kite_core::formats::roadmap_markdown;
use iron_kite_core::things::{ProductId, ReleaseId, ThingKind};
use iron_kite_ops::collections::{self, ExportAsk, FileKind};
use iron_kite_ops::{App, Call, handover, plan, takeout};
use serde_json::{Value, json};

use super::told::Told;
use super::{Place, command_call, existing, noted, product_named, words};

/// Where it goes, and of what.
#[derive(Args)]
pub(super) struct Out {
    #[command(flatten)]
    place: Place,
    /// The product's name; the first one where left out.
    #[arg(long)]
    product: Option<String>,
    /// The file; standard output where left out, or -.
    #[arg(long)]
    out: Option<PathBuf>,
}

/// The kinds of files.
#[derive(Clone, Copy, ValueEnum)]
pub(super) enum Kind {
    Csv,
    Xlsx,
    Json,
    Markdown,
}

#[derive(Subcommand)]
pub(super) enum Export {
    /// The whole workspace as one JSON file, without passwords.
    All {
        #[command(flatten)]
        place: Place,
        /// The file.
        #[arg(long)]
        out: PathBuf,
    },
    /// What a view shows.
    View {
        /// Its name.
        name: String,
        /// The collection that it is of, where several have a view of this name.
        #[arg(long, value_parser = collection)]
        collection: Option<Collection>,
        /// The kind of file.
        #[arg(long, value_enum, default_value = "csv")]
        kind: Kind,
        #[command(flatten)]
        out: Out,
    },
    /// A release as Markdown, for a development team.
    Release {
        /// Its name.
        name: String,
        #[command(flatten)]
        out: Out,
    },
    /// The roadmap of a product as Markdown, or as JSON with --json.
    Roadmap {
        #[command(flatten)]
        out: Out,
    },
}

pub(super) fn export(export: Export, as_json: bool) -> Result<Told, String> {
    match export {
        Export::All { place, out } => {
            noted(&place.data, "export all", Value::Null, all(&place.data, &out))?;
            let written = out.display().to_string();
            Ok(Told::done(format!("Wrote {written}"), json!({ "wrote": written })))
        }
        Export::View { name, collection, kind, out } => {
            let (app, call) = (existing(&out.place.data)?, command_call());
            let product = product_named(&app, &call, out.product.as_deref())?.id;
            let (collection, query) = view_named(&app, &call, product, &name, collection)?;
            let kind = match kind {
                Kind::Csv => FileKind::Csv,
                Kind::Xlsx => FileKind::Xlsx,
                Kind::Json => FileKind::Json,
                Kind::Markdown => FileKind::Markdown,
            };
            let file = collections::export(&app, &call, collection, &ExportAsk { product, query, kind });
            write(&out, &file.map_err(words)?.bytes)
        }
        Export::Release { name, out } => {
            let (app, call) = (existing(&out.place.data)?, command_call());
            let product = product_named(&app, &call, out.product.as_deref())?.id;
            let all = plan::releases(&app, &call, product).map_err(words)?;
            let found = all.into_iter().find(|one| one.release.title == name);
            let release: ReleaseId = found.ok_or_else(|| format!("there is no release called '{name}'"))?.release.id;
            let text = takeout::release_markdown(&app, &call, release).map_err(words)?;
            write(&out, text.as_bytes())
        }
        Export::Roadmap { out } => {
            let (app, call) = (existing(&out.place.data)?, command_call());
            let product = product_named(&app, &call, out.product.as_deref())?;
            let roadmap = handover::roadmap(&app, &call, product.id).map_err(words)?;
            let text = match as_json {
                true => json!(roadmap).to_string() + "\n",
                false => roadmap_markdown::write(&product.name, &roadmap),
            };
            write(&out, text.as_bytes())
        }
    }
}

/// A collection by the name of what it holds, such as idea.
fn collection(name: &str) -> Result<Collection, String> {
    let kind: ThingKind = name.parse()?;
    Collection::of(kind).ok_or_else(|| format!("there is no collection of {}s", kind.words()))
}

fn all(dir: &Path, out: &Path) -> Result<(), String> {
    let app = existing(dir)?;
    let file = File::create(out).map_err(|fault| format!("{} cannot be written: {fault}", out.display()))?;
    takeout::export_all(&app, &command_call(), &mut BufWriter::new(file)).map_err(words)
}

/// The view of a name, kept or of the product's own, and what it asks for.
fn view_named(
    app: &App,
    call: &Call,
    product: ProductId,
    name: &str,
    of: Option<Collection>,
) -> Result<(Collection, Query), String> {
    let mut found: Vec<(Collection, ViewDefinition)> = Vec::new();
    for collection in Collection::ALL.iter().copied().filter(|one| of.is_none_or(|of| of == *one)) {
        let kept = collections::views(app, call, product, collection).map_err(words)?;
        let kept = kept.into_iter().filter(|view| view.name == name).map(|view| view.definition);
        let first = first_views(collection).into_iter().filter(|view| view.name == name).map(|view| view.definition);
        // A view that somebody kept under the name of one that was there first stands for it.
        found.extend(kept.chain(first).next().map(|definition| (collection, definition)));
    }
    match found.len() {
        0 => Err(format!("there is no view called '{name}'")),
        1 => found.pop().map(|(collection, view)| (collection, query_of(view))).ok_or_else(String::new),
        _ => {
            let all: Vec<&str> = found.iter().map(|(collection, _)| collection.kind().name()).collect();
            Err(format!("several views are called '{name}'; say of which --collection: {}", all.join(", ")))
        }
    }
}

fn query_of(view: ViewDefinition) -> Query {
    Query {
        fields: view.fields.into_iter().map(|field| field.name).collect(),
        filter: view.filter,
        order: view.order,
        ..Query::default()
    }
}

/// Writes a file, or to standard output; then it is all that stands there.
fn write(out: &Out, bytes: &[u8]) -> Result<Told, String> {
    match out.out.as_deref().filter(|path| path.as_os_str() != "-") {
        Some(path) => {
            std::fs::write(path, bytes).map_err(|fault| format!("{} cannot be written: {fault}", path.display()))?;
            let written = path.display().to_string();
            Ok(Told::done(format!("Wrote {written}"), json!({ "wrote": written })))
        }
        None => {
            std::io::stdout().lock().write_all(bytes).map_err(words)?;
            Ok(Told::nothing())
        }
    }
}
