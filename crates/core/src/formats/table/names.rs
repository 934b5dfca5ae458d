//! What columns of feedback are usually called, in the languages that sheets come in.

/// What a column of feedback can mean.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Meaning {
    /// The words.
    Text,
    /// The day.
    Day,
    /// The person.
    Person,
    /// Their organisation.
    Account,
    /// A rating.
    Rating,
    /// Their mail address.
    Address,
    /// The number by which the source knows it.
    Key,
}

/// Names by what they mean, in lower case, the most telling first: English, German, French, Spanish, Dutch.
const NAMES: [(Meaning, &[&str]); 7] = [
    (
        Meaning::Key,
        &[
            "id",
            "key",
            "ref",
            "reference",
            "ticket",
            "number",
            "no",
            "nr",
            "uuid",
            "guid",
            "nummer",
            "kennung",
            "vorgang",
            "numéro",
            "numero",
            "número",
            "num",
            "kenmerk",
        ],
    ),
    (
        Meaning::Address,
        &["email", "mail", "address", "e-mail", "courriel", "correo", "mailadres", "adresse", "dirección"],
    ),
    (
        Meaning::Day,
        &[
            "date",
            "day",
            "created",
            "said",
            "when",
            "timestamp",
            "time",
            "sent",
            "opened",
            "received",
            "submitted",
            "posted",
            "datum",
            "tag",
            "erstellt",
            "eingegangen",
            "zeitpunkt",
            "zeit",
            "date",
            "jour",
            "créé",
            "envoyé",
            "reçu",
            "fecha",
            "día",
            "creado",
            "enviado",
            "recibido",
            "dag",
            "aangemaakt",
            "ontvangen",
            "verzonden",
            "tijd",
        ],
    ),
    (
        Meaning::Rating,
        &[
            "rating",
            "stars",
            "score",
            "grade",
            "bewertung",
            "sterne",
            "note",
            "punkte",
            "étoiles",
            "évaluation",
            "calificación",
            "puntuación",
            "estrellas",
            "valoración",
            "beoordeling",
            "sterren",
            "cijfer",
        ],
    ),
    (
        Meaning::Account,
        &[
            "account",
            "company",
            "organisation",
            "organization",
            "group",
            "firma",
            "unternehmen",
            "entreprise",
            "société",
            "compte",
            "empresa",
            "cuenta",
            "organización",
            "bedrijf",
            "organisatie",
        ],
    ),
    (
        Meaning::Text,
        &[
            "text",
            "review",
            "feedback",
            "comment",
            "comments",
            "message",
            "body",
            "answer",
            "content",
            "description",
            "what",
            "wish",
            "tweet",
            "nachricht",
            "kommentar",
            "bewertungstext",
            "rückmeldung",
            "beschreibung",
            "antwort",
            "wunsch",
            "texte",
            "commentaire",
            "avis",
            "réponse",
            "texto",
            "comentario",
            "reseña",
            "mensaje",
            "respuesta",
            "opinión",
            "tekst",
            "opmerking",
            "bericht",
            "recensie",
            "antwoord",
            "reactie",
        ],
    ),
    (
        Meaning::Person,
        &[
            "person",
            "name",
            "author",
            "user",
            "who",
            "customer",
            "from",
            "reviewer",
            "username",
            "kunde",
            "verfasser",
            "benutzer",
            "von",
            "absender",
            "nom",
            "auteur",
            "client",
            "utilisateur",
            "prénom",
            "nombre",
            "autor",
            "cliente",
            "usuario",
            "naam",
            "klant",
            "gebruiker",
            "afzender",
        ],
    ),
];

/// Headings that say nothing of the others, and are headings all the same.
const OTHERS: [&str; 34] = [
    "title",
    "subject",
    "status",
    "state",
    "type",
    "category",
    "tags",
    "country",
    "language",
    "city",
    "url",
    "link",
    "source",
    "version",
    "price",
    "value",
    "priority",
    "channel",
    "product",
    "phone",
    "titel",
    "betreff",
    "kategorie",
    "sprache",
    "titre",
    "sujet",
    "langue",
    "pays",
    "título",
    "asunto",
    "idioma",
    "onderwerp",
    "taal",
    "label",
];

/// How well a heading fits a name: it is that, one of its words is, or it begins or ends with it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Fit {
    /// A word of it begins or ends with the name: "Bewertungstext".
    Part,
    /// One of its words is the name: "Created at", "customerName".
    Word,
    /// It is the name.
    Whole,
}

/// The names of a meaning, the most telling first.
pub(crate) fn names_of(meaning: Meaning) -> &'static [&'static str] {
    NAMES.iter().find(|(one, _)| *one == meaning).map_or(&[], |(_, names)| names)
}

/// How a heading fits a name, if it does.
pub(crate) fn fit(heading: &str, name: &str) -> Option<Fit> {
    if heading.chars().nth(LONGEST).is_some() {
        return None;
    }
    let words = words_of(heading);
    if words.len() == 1 && words.first().is_some_and(|word| word == name) {
        return Some(Fit::Whole);
    }
    if words.iter().any(|word| word == name) {
        return Some(Fit::Word);
    }
    let long = name.chars().count() >= LEAST_PART;
    let within = |word: &String| word.starts_with(name) || word.ends_with(name);
    (long && words.iter().any(within)).then_some(Fit::Part)
}

/// What is longer says something, and names nothing, in characters.
const LONGEST: usize = 60;
/// A shorter name is not looked for within words.
const LEAST_PART: usize = 4;

/// Whether a cell is what columns are usually called.
pub(crate) fn is_common(cell: &str) -> bool {
    let words = words_of(cell);
    let known = |word: &String| {
        OTHERS.contains(&word.as_str()) || NAMES.iter().any(|(_, names)| names.contains(&word.as_str()))
    };
    // "The answer was no" is no heading.
    words.len() <= 3 && words.iter().any(known)
}

/// The words of a heading in lower case: "createdAt" and "created_at" have two.
fn words_of(heading: &str) -> Vec<String> {
    let mut words = vec![String::new()];
    let mut small = false;
    for c in heading.trim().chars() {
        let begins = c.is_uppercase() && small;
        small = c.is_lowercase();
        if begins || !(c.is_alphanumeric() || c == '-') {
            words.push(String::new());
        }
        if let Some(word) = words.last_mut().filter(|_| c.is_alphanumeric() || c == '-') {
            word.extend(c.to_lowercase());
        }
    }
    words.retain(|word| !word.is_empty());
    words
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn headings_are_known_by_their_words() {
        assert_eq!(fit("Date", "date"), Some(Fit::Whole));
        assert_eq!(fit("createdAt", "created"), Some(Fit::Word));
        assert_eq!(fit("Bewertungstext", "text"), Some(Fit::Part));
        assert_eq!(fit("Kundenname", "name"), Some(Fit::Part));
        assert_eq!(fit("notice", "no"), None);
        assert!(is_common("Customer Name") && is_common("Fecha") && !is_common("Tern"));
        assert!(!is_common("there was no answer from the office at all"));
    }
}
