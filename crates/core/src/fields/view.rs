//! Saved ways to look at a collection.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::collection::Collection;
use super::filter::{Context, Filter};
use super::query::{GroupBy, OrderBy, Query, TotalOf, check_query};
use super::types::Shape;
use crate::kind::prelude::*;
use crate::problem::Fault;
use crate::things::ProductId;

/// The kinds of views.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ViewKind {
    /// Rows and columns, edited in place.
    #[default]
    Table,
    /// Cards in columns by a field's value.
    Columns,
    /// Bars from a day to a day.
    Timeline,
    /// Things on their days.
    Calendar,
    /// Cards with a picture.
    Gallery,
    /// One thing below the other.
    List,
    /// A picture of figures.
    Chart,
}

/// A field as a view shows it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ViewField {
    /// Its name.
    pub name: String,
    /// Its width in pixels, in a table.
    pub width: Option<u32>,
    /// Whether it stays at the left edge, in a table.
    #[serde(default)]
    pub pinned: bool,
}

/// How far a timeline reaches at a glance.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[expect(missing_docs, reason = "the names say it")]
pub enum Zoom {
    Week,
    Month,
    Quarter,
    Year,
}

/// The kinds of charts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChartKind {
    /// A bar for each group, side by side for each of the second group.
    Bar,
    /// A line over the groups, one for each of the second group.
    Line,
    /// A point for each thing.
    Scatter,
    /// A table of groups by groups, shaded by the figure.
    Heat,
}

/// What a chart shows. Bars, lines and heat tables go by the view's groups and its first total.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Chart {
    /// Its kind.
    pub kind: ChartKind,
    /// For a scatter: the field from left to right.
    pub x: Option<String>,
    /// The field from below to above.
    pub y: Option<String>,
    /// The field that gives a point its size.
    pub size: Option<String>,
    /// The field that gives a point its sign.
    pub colour: Option<String>,
    /// The field that is written beside a point.
    pub label: Option<String>,
}

/// Everything that a view is, but its name and whose it is. It stands in the address where it is not saved.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ViewDefinition {
    /// Its kind.
    #[serde(default)]
    pub kind: ViewKind,
    /// Which things.
    pub filter: Option<Filter>,
    /// In which order.
    #[serde(default)]
    pub order: Vec<OrderBy>,
    /// The columns of a columns view and its rows, the lanes of a timeline, the axis and the series of a chart.
    #[serde(default)]
    pub group: Vec<GroupBy>,
    /// Figures for each group.
    #[serde(default)]
    pub totals: Vec<TotalOf>,
    /// The fields that are shown, in their order.
    #[serde(default)]
    pub fields: Vec<ViewField>,
    /// The field with the day on which a bar begins, or the day of a calendar.
    pub from: Option<String>,
    /// The field with the day on which a bar ends.
    pub to: Option<String>,
    /// How far a timeline reaches.
    pub zoom: Option<Zoom>,
    /// The field with the picture's address, in a gallery.
    pub picture: Option<String>,
    /// How many cards a column should hold at most, by the key of its group.
    #[serde(default)]
    pub limits: BTreeMap<String, u32>,
    /// What a chart shows.
    pub chart: Option<Chart>,
}

/// A saved view, as it is stored.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct SavedView {
    /// Its number.
    pub id: i64,
    /// Its revision.
    pub rev: i64,
    /// The product whose things it shows.
    pub product_id: ProductId,
    /// The collection.
    pub collection: Collection,
    /// Its place among the views, ascending.
    pub position: f64,
    /// What people call it.
    pub name: String,
    /// Whose it is; nobody's where it is shared.
    pub owner_id: Option<i64>,
    /// 1 where it is what the collection opens with.
    pub opens_first: i64,
    /// Its [`ViewDefinition`] as JSON in text.
    pub definition: String,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "view",
    singular: "view",
    plural: "views",
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    prose: &[Prose::Text("name"), Prose::Told("definition")],
    spoken_of: false,
    ..Description::BASE
};

impl ViewDefinition {
    /// What it asks for. `fields` are those that its kind needs beside the ones it shows.
    #[must_use]
    pub fn query(&self) -> Query {
        Query {
            filter: self.filter.clone(),
            order: self.order.clone(),
            group: self.group.clone(),
            totals: self.totals.clone(),
            fields: self.fields.iter().map(|field| field.name.clone()).collect(),
        }
    }
}

/// Checks a view against the fields of its collection.
///
/// # Errors
/// Every part at fault.
pub fn check_view(view: &ViewDefinition, context: &Context<'_>) -> Result<(), Vec<Fault>> {
    let mut faults = check_query(&view.query(), context).err().unwrap_or_default();
    let mut shaped = |at: &str, name: &Option<String>, shapes: &[Shape], what: &str| {
        let Some(name) = name else { return };
        match context.field(name, at) {
            Ok(field) if shapes.is_empty() || shapes.contains(&field.shape) => {}
            Ok(field) => faults.push(Fault::new(at, format!("'{}' is no {what}. Pick another field.", field.label))),
            Err(fault) => faults.push(fault),
        }
    };
    shaped("/from", &view.from, &[Shape::Day, Shape::Days], "date");
    shaped("/to", &view.to, &[Shape::Day, Shape::Days], "date");
    shaped("/picture", &view.picture, &[Shape::Text, Shape::File], "picture");
    if let Some(chart) = &view.chart {
        let figures = [Shape::Number, Shape::Day];
        shaped("/chart/x", &chart.x, &figures, "number or date");
        shaped("/chart/y", &chart.y, &figures, "number or date");
        shaped("/chart/size", &chart.size, &[Shape::Number], "number");
        shaped("/chart/colour", &chart.colour, &[], "");
        shaped("/chart/label", &chart.label, &[], "");
    }
    if view.limits.len() > 200 {
        faults.push(Fault::new("/limits", "At most 200 columns can have a limit."));
    }
    if faults.is_empty() { Ok(()) } else { Err(faults) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fields::registered;
    use jiff::civil::date;
    use serde_json::json;

    #[test]
    fn a_view_names_what_does_not_fit() {
        let fields = registered(Collection::Release);
        let context = Context { fields: &fields, today: date(2026, 2, 18), me: None };
        let view = |json| serde_json::from_value::<ViewDefinition>(json).unwrap();
        let fine = view(json!({"kind": "timeline", "from": "starts_on", "to": "ends_on", "zoom": "quarter"}));
        assert_eq!(check_view(&fine, &context), Ok(()));
        let bad = view(json!({
            "kind": "calendar", "from": "title", "fields": [{"name": "gone"}],
            "chart": {"kind": "scatter", "x": "state", "y": "points"},
        }));
        let faults = check_view(&bad, &context).unwrap_err();
        let at: Vec<&str> = faults.iter().map(|fault| fault.field.as_str()).collect();
        assert_eq!(at, ["/fields/0", "/from", "/chart/x"]);
    }
}
