//! Which column of a table is what: as somebody chose it, or as far as headings and values tell.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::formats::table::{Fit, Look, Looks, Meaning, Table, fit, names_of};

/// Which column holds what, by its place from 0. Columns not named here are kept beside the item.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Columns {
    /// The words.
    pub text: usize,
    /// The day they were said.
    pub said_on: Option<usize>,
    /// Who said them.
    pub person: Option<usize>,
    /// The organisation of that person.
    pub account: Option<usize>,
    /// A rating that came with them.
    pub rating: Option<usize>,
    /// The mail address of the person.
    #[serde(default)]
    pub address: Option<usize>,
    /// What tells a row from all others of its source, such as the number of a ticket.
    #[serde(default)]
    pub key: Option<usize>,
}

impl Columns {
    /// The columns that mean something, with what they mean.
    pub(super) fn named(&self) -> [(&'static str, Option<usize>); 7] {
        [
            ("text", Some(self.text)),
            ("said_on", self.said_on),
            ("person", self.person),
            ("account", self.account),
            ("rating", self.rating),
            ("address", self.address),
            ("key", self.key),
        ]
    }

    /// The meanings by the headings of a table, to be remembered for its source.
    #[must_use]
    pub fn mapping(&self, table: &Table) -> BTreeMap<String, String> {
        let heading = |at: usize| table.columns.get(at).cloned();
        let named = self.named().into_iter();
        named.filter_map(|(meaning, at)| Some((meaning.to_owned(), heading(at?)?))).collect()
    }

    /// The columns of a table by meanings that were remembered; nothing where the words are not among its headings.
    #[must_use]
    pub fn remembered(mapping: &BTreeMap<String, String>, table: &Table) -> Option<Self> {
        let at = |meaning: &str| {
            let heading = mapping.get(meaning)?;
            table.columns.iter().position(|column| column == heading)
        };
        Some(Columns {
            text: at("text")?,
            said_on: at("said_on"),
            person: at("person"),
            account: at("account"),
            rating: at("rating"),
            address: at("address"),
            key: at("key"),
        })
    }
}

/// So many rows are looked at.
const SAMPLE: usize = 300;
/// A share of a column that is most of it.
const MOST: f64 = 0.5;
/// A share of a column that says what it is without a heading.
const NEARLY_ALL: f64 = 0.9;
/// A day with its hour is no longer than this, in characters: "Wednesday, 24 September 2026, 17:20".
const LONGEST_DAY: f64 = 40.0;
/// The longest name, on average.
const LONGEST_NAME: f64 = 60.0;

/// Proposes which column is what: by its heading where its values fit, and by its values alone where they leave no doubt.
/// Nothing is proposed twice, no empty column, and no column that repeats an earlier one. The words fall back to the column
/// with the longest cells. Linear in the cells of the first rows.
#[must_use]
pub fn propose_columns(table: &Table) -> Columns {
    let mut left = Proposal::of(table);
    let key = left.take(Meaning::Key, Looks::tells_apart);
    let address = left.take(Meaning::Address, |looks| looks.like(Look::Address) >= MOST);
    // What is named after a day and cannot be read as one is told so, row by row; what people said is no day.
    let said_on = left.take(Meaning::Day, |looks| {
        let short = looks.length() <= LONGEST_DAY;
        looks.like(Look::Day) >= MOST || short && looks.with_digits() >= MOST && looks.like_streets() < MOST
    });
    let rating = left.take(Meaning::Rating, |looks| looks.like(Look::Number) >= MOST);
    let named =
        |looks: &Looks| looks.like(Look::Number).max(looks.like(Look::Day)) < MOST && looks.length() <= LONGEST_NAME;
    let account = left.take(Meaning::Account, named);
    let text = left.take(Meaning::Text, |looks| {
        looks.like(Look::Number).max(looks.like(Look::Day)).max(looks.like(Look::Address)) < MOST
    });
    let person = left.take(Meaning::Person, |looks| named(looks) && looks.like_streets() < MOST);
    let said_on = said_on.or_else(|| left.first(|looks| looks.like(Look::Day) >= NEARLY_ALL));
    let text = text.or_else(|| left.longest()).unwrap_or(0);
    Columns { text, said_on, person, account, rating, address, key }
}

/// The columns that are not spoken for yet.
struct Proposal<'a> {
    columns: Vec<(usize, &'a str, Looks)>,
}

impl<'a> Proposal<'a> {
    fn of(table: &'a Table) -> Self {
        let cells = |at: usize| table.rows.iter().take(SAMPLE).map(move |row| row.cells.get(at));
        let columns = table.columns.iter().enumerate().map(|(at, heading)| {
            let heading = if table.headed { heading.as_str() } else { "" };
            (at, heading, Looks::of(cells(at)))
        });
        let repeats = |at: usize| (0..at).any(|other| cells(other).eq(cells(at)));
        // A table of headings alone is told by them.
        let any = !table.rows.is_empty();
        let columns = columns.filter(|(at, _, looks)| !any || !(looks.empty() || table.rows.len() > 1 && repeats(*at)));
        Proposal { columns: columns.collect() }
    }

    /// Takes the column whose heading fits a meaning best, among those whose values fit.
    fn take(&mut self, meaning: Meaning, fits: impl Fn(&Looks) -> bool) -> Option<usize> {
        let how_well = |(_, heading, looks): &(usize, &str, Looks)| -> Option<(Fit, usize)> {
            let names = names_of(meaning).iter().enumerate();
            let best = names.filter_map(|(at, name)| Some((fit(heading, name)?, usize::MAX - at))).max();
            best.filter(|_| looks.empty() || fits(looks))
        };
        let found =
            self.columns.iter().enumerate().filter_map(|(n, column)| Some((how_well(column)?, usize::MAX - n, n)));
        let (_, _, n) = found.max()?;
        Some(self.columns.remove(n).0)
    }

    /// Takes the first column whose values fit.
    fn first(&mut self, fits: impl Fn(&Looks) -> bool) -> Option<usize> {
        let n = self.columns.iter().position(|(_, _, looks)| fits(looks))?;
        Some(self.columns.remove(n).0)
    }

    /// The column with the longest cells.
    fn longest(&self) -> Option<usize> {
        let longer = |a: &&(usize, &str, Looks), b: &&(usize, &str, Looks)| a.2.length().total_cmp(&b.2.length());
        self.columns.iter().rev().max_by(longer).map(|(at, _, _)| *at)
    }
}

pub(super) fn check(table: &Table, columns: &Columns) -> Result<(), String> {
    let mut used: Vec<usize> = columns.named().into_iter().filter_map(|(_, at)| at).collect();
    if let Some(at) = used.iter().find(|at| **at >= table.columns.len()) {
        return Err(format!("There is no column {}; the file has {}.", at + 1, table.columns.len()));
    }
    used.sort_unstable();
    match used.windows(2).find(|pair| pair[0] == pair[1]) {
        Some(pair) => Err(format!("The column '{}' is chosen twice. Choose each column once.", table.columns[pair[0]])),
        None => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formats::table::{HowRead, of_text};

    fn proposed(text: &str) -> BTreeMap<String, String> {
        let table = of_text(text, "UTF-8", &HowRead::default()).unwrap();
        propose_columns(&table).mapping(&table)
    }

    fn says(text: &str, expected: &[(&str, &str)]) {
        let expected =
            expected.iter().map(|(meaning, heading)| ((*meaning).to_owned(), (*heading).to_owned())).collect();
        assert_eq!(proposed(text), expected, "{text}");
    }

    #[test]
    fn headings_of_other_languages_are_known() {
        says(
            "Nr;Kundenname;Firma;Eingegangen;Bewertung;Nachricht\n1;Ann;Hask;31.03.2026;5;Das Boot kam zu spät\n2;Bo;Ryde;01.04.2026;2;Zu teuer\n",
            &[
                ("key", "Nr"),
                ("person", "Kundenname"),
                ("account", "Firma"),
                ("said_on", "Eingegangen"),
                ("rating", "Bewertung"),
                ("text", "Nachricht"),
            ],
        );
        says(
            "Fecha,Nombre,Empresa,Comentario,Correo\n2026-03-31,Ann,Hask,El barco llegó tarde,ann@hask.example\n2026-04-01,Bo,Ryde,Muy caro,bo@ryde.example\n",
            &[
                ("said_on", "Fecha"),
                ("person", "Nombre"),
                ("account", "Empresa"),
                ("text", "Comentario"),
                ("address", "Correo"),
            ],
        );
        says(
            "Datum,Naam,Opmerking\n31-03-2026,Ann,De boot was te laat\n01-04-2026,Bo,Te duur\n",
            &[("said_on", "Datum"), ("person", "Naam"), ("text", "Opmerking")],
        );
        says(
            "Date,Auteur,Commentaire\n31/03/2026,Ann,Le bateau était en retard\n01/04/2026,Bo,Trop cher\n",
            &[("said_on", "Date"), ("person", "Auteur"), ("text", "Commentaire")],
        );
    }

    #[test]
    fn values_count_more_than_headings() {
        // A number is no person, a street no mail address, what is empty or stands there twice is nothing.
        says(
            "User,Address,Name,Copy of name,Company,Text\n17,\"Quay 4, Hask\",Ann,Ann,,The boat was late again today\n18,\"Main Street 2, Hask\",Bo,Bo,,So was the bus\n",
            &[("person", "Name"), ("text", "Text")],
        );
        // What is called a number and is not one of each.
        says("Number,Text\n7,The boat was late\n7,So was the bus\n", &[("text", "Text")]);
        says("When,Said\nsoon,The boat was late\nlater,So was the bus\n", &[("text", "Said")]);
    }

    #[test]
    fn without_headings_values_tell() {
        says(
            "5,2026-03-31,Ann,The boat was late again and nobody said a word\n3,2026-04-01,Bo,So was the bus and we stood in the rain\n",
            &[("said_on", "column 2"), ("text", "column 4")],
        );
    }
}
