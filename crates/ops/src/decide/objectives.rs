//! Objectives: the tree, how each comes along, and what is done for it.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::decide::{
    Delivery, Forecast, Goal, Idea, IdeaState, NoForecast, Objective, ObjectiveState, Point, RolledUp, Served, Stage,
    TreeNode, ahead, forecast, read_measurements, roll_up, served, share, straight,
};
use iron_kite_core::fields;
use iron_kite_core::formats::table::BadRow;
use iron_kite_core::plan::{Progress, Release, ReleaseState};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{IdeaId, ObjectiveId, ProductId, ReleaseId, Thing, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::queries::decide::{MeasuredValue, Serves};
use iron_kite_store::{Rows, Tx};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields as fields_of};
use crate::things::{LinkEnds, make_link, name_of};

/// An objective, and how it comes along.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ObjectiveView {
    /// The objective.
    #[serde(flatten)]
    pub objective: Objective,
    /// What was measured last.
    pub present: Option<Point>,
    /// How far that is from start to target, 0 – 1; outside where it went the wrong way or beyond.
    pub share: Option<f64>,
    /// How far it is ahead of the straight way, in its unit; below 0 where it is behind.
    pub ahead: Option<f64>,
    /// How far it is by its parts; by its own measure where it has none.
    pub rolled: RolledUp,
    /// Where it will be on its day if it goes on as it did.
    pub forecast: Option<Forecast>,
    /// Why there is no forecast.
    pub no_forecast: Option<NoForecast>,
    /// What is done for it, by itself.
    pub served: Served,
    /// Whether nothing is under way for it, nor for a part of it.
    pub idle: bool,
    /// How far the stories are that serve it or a part of it.
    pub delivered: Progress,
}

/// A value of an objective's measure.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ValueView {
    /// The day and the value.
    #[serde(flatten)]
    pub point: Point,
    /// Where the straight way was on that day.
    pub straight: Option<f64>,
    /// What else is to be known.
    pub note: Option<String>,
    /// The number of the measurement, where somebody noted it.
    pub measurement: Option<i64>,
    /// Its revision.
    pub rev: Option<i64>,
    /// The result that it follows from.
    pub result: Option<i64>,
}

/// Something that serves an objective.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ServingView {
    /// An idea, an initiative or a release.
    pub thing: Thing,
    /// Its reference.
    pub reference: String,
    /// What it says.
    pub title: String,
    /// Where it stands, as its kind says it.
    pub state: String,
    /// How far that is.
    pub stage: Stage,
    /// How much of the way it is to bring, 0 – 1.
    pub part: Option<f64>,
    /// How far its stories are.
    pub delivered: Progress,
}

/// An objective with all that is known of it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ObjectiveSheet {
    /// How it comes along.
    #[serde(flatten)]
    pub view: ObjectiveView,
    /// What was measured, by the day.
    pub values: Vec<ValueView>,
    /// The two ends of the straight way.
    pub way: Vec<Point>,
    /// What serves it: what is under way first.
    pub serving: Vec<ServingView>,
}

/// A value on a day.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewMeasurement {
    /// The day; today where left out.
    pub taken_on: Option<String>,
    /// The value.
    pub value: f64,
    /// What else is to be known.
    pub note: Option<String>,
}

/// Measurements as a table.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct MeasurementTable {
    /// The table as text.
    pub text: String,
}

/// What a table of measurements came to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MeasurementsRead {
    /// What was saved.
    pub saved: Saved,
    /// How many values were read.
    pub read: usize,
    /// The rows that were left out.
    pub left_out: Vec<BadRow>,
}

/// What serves an objective, and how much.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Serving {
    /// An idea, an initiative or a release.
    pub thing: Thing,
    /// How much of the way from start to target it is to bring, 0 – 1; nothing where nobody can say.
    pub part: Option<f64>,
}

/// An objective that something serves.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ServedView {
    /// The objective.
    pub objective: ObjectiveId,
    /// What it is called.
    pub title: String,
    /// How much of its way the thing is to bring, 0 – 1.
    pub part: Option<f64>,
}

/// So many values at once; years of daily ones.
const MOST_VALUES: usize = 5_000;

/// What is asked of the store for the objectives of a product.
struct Known {
    objectives: Vec<Objective>,
    values: BTreeMap<ObjectiveId, Vec<MeasuredValue>>,
    serving: BTreeMap<ObjectiveId, Vec<Serves>>,
    ideas: BTreeMap<IdeaId, Idea>,
    releases: BTreeMap<ReleaseId, Release>,
    delivery: Delivery,
}

impl Known {
    fn of(rows: &Rows<'_>, product: ProductId) -> Result<Known, Problem> {
        let mut values: BTreeMap<ObjectiveId, Vec<MeasuredValue>> = BTreeMap::new();
        for value in rows.measured(product)? {
            values.entry(value.objective).or_default().push(value);
        }
        let mut serving: BTreeMap<ObjectiveId, Vec<Serves>> = BTreeMap::new();
        for one in rows.serving(product)? {
            serving.entry(one.objective).or_default().push(one);
        }
        let ideas: Vec<Idea> = rows.all_of(product)?;
        let releases: Vec<Release> = rows.all_of(product)?;
        Ok(Known {
            objectives: rows.all_of(product)?,
            values,
            serving,
            ideas: ideas.into_iter().map(|idea| (idea.id, idea)).collect(),
            releases: releases.into_iter().map(|release| (release.id, release)).collect(),
            delivery: delivery(rows, product)?,
        })
    }

    fn points(&self, id: ObjectiveId) -> Vec<Point> {
        self.values.get(&id).into_iter().flatten().map(|value| value.point).collect()
    }

    fn goal(&self, objective: &Objective) -> Goal {
        let day = |text: &Option<String>| text.as_ref().and_then(|text| text.parse::<Date>().ok());
        let first = self.values.get(&objective.id).and_then(|values| values.first()).map(|value| value.point.on);
        Goal {
            start: objective.start_value,
            target: objective.target_value,
            from: day(&objective.starts_on).or(first),
            by: day(&objective.due_on),
        }
    }

    /// The objective itself and all that are parts of it.
    fn with_parts(&self, id: ObjectiveId) -> BTreeSet<ObjectiveId> {
        let (mut found, mut open) = (BTreeSet::new(), vec![id]);
        while let Some(id) = open.pop() {
            if found.insert(id) {
                open.extend(self.objectives.iter().filter(|other| other.parent_id == Some(id)).map(|other| other.id));
            }
        }
        found
    }

    fn stories(&self, thing: Thing) -> BTreeSet<WorkItemId> {
        match thing.kind {
            ThingKind::Idea => self.delivery.of_idea(IdeaId(thing.id)),
            ThingKind::Release => self.delivery.in_release(ReleaseId(thing.id)),
            _ => self.delivery.work.stories_below(WorkItemId(thing.id)),
        }
    }

    fn stage(&self, thing: Thing) -> Stage {
        let idea = self.ideas.get(&IdeaId(thing.id)).map(|idea| idea.state);
        let release = self.releases.get(&ReleaseId(thing.id)).map(|release| release.state);
        match thing.kind {
            ThingKind::Idea => match idea {
                Some(IdeaState::Chosen) => Stage::UnderWay,
                Some(IdeaState::Shipped) => Stage::Out,
                Some(IdeaState::SetAside) => Stage::Dropped,
                Some(IdeaState::Raw | IdeaState::Weighing) | None => Stage::Weighed,
            },
            ThingKind::Release if release == Some(ReleaseState::Released) => Stage::Out,
            ThingKind::Release => Stage::UnderWay,
            _ => {
                let progress = self.delivery.work.progress(&self.stories(thing));
                match progress.stories {
                    0 => Stage::Weighed,
                    all if all == progress.stories_done => Stage::Out,
                    _ => Stage::UnderWay,
                }
            }
        }
    }

    fn serves(&self, id: ObjectiveId) -> &[Serves] {
        self.serving.get(&id).map_or(&[], Vec::as_slice)
    }

    fn served(&self, id: ObjectiveId, gone: Option<f64>) -> Served {
        let serving: Vec<_> = self.serves(id).iter().map(|one| (self.stage(one.thing), one.part)).collect();
        served(gone, &serving)
    }

    fn views(&self) -> Vec<ObjectiveView> {
        let counts = |one: &&Objective| one.state != Some(ObjectiveState::SetAside);
        let node = |one: &Objective| TreeNode {
            id: one.id,
            parent: one.parent_id,
            weight: one.weight.unwrap_or(1.0),
            share: self.points(one.id).last().and_then(|point| share(&self.goal(one), point.value)),
        };
        let mut rolled = roll_up(&self.objectives.iter().filter(counts).map(node).collect::<Vec<_>>());
        let aside: Vec<TreeNode> = self.objectives.iter().filter(|one| !counts(one)).map(node).collect();
        rolled.extend(roll_up(&aside));
        self.objectives.iter().map(|one| self.view(one, &rolled)).collect()
    }

    fn view(&self, one: &Objective, rolled: &BTreeMap<ObjectiveId, RolledUp>) -> ObjectiveView {
        let (points, goal) = (self.points(one.id), self.goal(one));
        let present = points.last().copied();
        let share = present.and_then(|point| share(&goal, point.value));
        let below = self.with_parts(one.id);
        let serving = below.iter().flat_map(|id| self.serves(*id));
        let stories: BTreeSet<WorkItemId> = serving.clone().flat_map(|serves| self.stories(serves.thing)).collect();
        let told = forecast(&points, &goal);
        ObjectiveView {
            share,
            ahead: present.and_then(|point| ahead(&goal, point)),
            rolled: rolled.get(&one.id).copied().unwrap_or_default(),
            no_forecast: told.as_ref().err().copied(),
            forecast: told.ok(),
            served: self.served(one.id, share),
            idle: !serving.clone().any(|serves| self.stage(serves.thing) == Stage::UnderWay),
            delivered: self.delivery.work.progress(&stories),
            objective: one.clone(),
            present,
        }
    }

    fn serving_view(&self, rows: &Rows<'_>, serves: &Serves) -> Result<ServingView, Problem> {
        let row = rows.json(serves.thing)?;
        let stage = self.stage(serves.thing);
        let state = match stage {
            _ if serves.thing.kind != ThingKind::WorkItem => row["state"].as_str().unwrap_or_default().to_owned(),
            Stage::Out => "done".into(),
            Stage::UnderWay => "under_way".into(),
            Stage::Weighed | Stage::Dropped => "draft".into(),
        };
        Ok(ServingView {
            thing: serves.thing,
            reference: name_of(rows, serves.thing),
            title: row["title"].as_str().unwrap_or_default().to_owned(),
            state,
            stage,
            part: serves.part,
            delivered: self.delivery.work.progress(&self.stories(serves.thing)),
        })
    }
}

/// The work of a product, by what it is for.
pub(crate) fn delivery(rows: &Rows<'_>, product: ProductId) -> Result<Delivery, Problem> {
    let (became, split) = rows.became(product)?;
    Ok(Delivery::of(rows.work(product)?, &became, &split))
}

/// The objectives of a product, and how each comes along.
///
/// # Errors
/// Where the right is missing.
pub fn objectives(app: &App, call: &Call, product: ProductId) -> Result<Vec<ObjectiveView>, Problem> {
    app.read(call, Right::Read, |rows| Ok(Known::of(rows, product)?.views()))
}

/// One objective with all that is known of it.
///
/// # Errors
/// Where there is no such objective.
pub fn objective(app: &App, call: &Call, id: ObjectiveId) -> Result<ObjectiveSheet, Problem> {
    app.read(call, Right::Read, |rows| {
        let one: Objective = rows.get(id)?;
        let known = Known::of(rows, one.product_id)?;
        let goal = known.goal(&one);
        let values = known.values.get(&id).into_iter().flatten().map(|value| ValueView {
            point: value.point,
            straight: straight(&goal, value.point.on),
            note: value.note.clone(),
            measurement: value.measurement.map(|(id, _)| id),
            rev: value.measurement.map(|(_, rev)| rev),
            result: value.result,
        });
        let mut serving: Vec<ServingView> =
            known.serves(id).iter().map(|serves| known.serving_view(rows, serves)).collect::<Result<_, _>>()?;
        serving.sort_by_key(|one| match one.stage {
            Stage::UnderWay => 0,
            Stage::Weighed => 1,
            Stage::Out => 2,
            Stage::Dropped => 3,
        });
        let way = match (goal.from, goal.by) {
            (Some(from), Some(by)) if from < by => {
                vec![Point { on: from, value: goal.start }, Point { on: by, value: goal.target }]
            }
            _ => Vec::new(),
        };
        let view = known.views().into_iter().find(|view| view.objective.id == id);
        let view = view.ok_or_else(|| Problem::NotFound(format!("objective {}", id.0)))?;
        Ok(ObjectiveSheet { view, values: values.collect(), way, serving })
    })
}

/// Notes what was measured of an objective on a day. There is one value a day: what was noted of that day before gives way.
///
/// # Errors
/// Where the day or the value is not as it should be.
pub fn measure(app: &App, call: &Call, id: ObjectiveId, new: NewMeasurement) -> Result<Saved, Problem> {
    let on = new.taken_on.unwrap_or_else(|| call.today.to_string());
    let values = json!({ "taken_on": on, "value": new.value, "note": new.note });
    let values = fields::check_new(ThingKind::Measurement, "", fields_of(values)).map_err(Problem::Invalid)?;
    let today = call.today.to_string();
    if values["taken_on"].as_str().is_some_and(|on| on > today.as_str()) {
        return Err(Problem::invalid("/taken_on", "This day is still to come. Note a value once it is measured."));
    }
    app.save(call, Right::Edit, move |tx| {
        let objective: Objective = tx.rows().get(id)?;
        put(tx, id, values)?;
        let unit = objective.unit.map(|unit| format!(" {unit}")).unwrap_or_default();
        tx.label(format!("measured {}{unit} for {id}", new.value));
        Ok(Some(id.thing()))
    })
}

/// Notes a table of measurements of an objective: days that were noted before get the value of the table.
///
/// # Errors
/// Where the table has no column of days or none of numbers.
pub fn measure_table(
    app: &App,
    call: &Call,
    id: ObjectiveId,
    table: MeasurementTable,
) -> Result<MeasurementsRead, Problem> {
    app.read(call, Right::Edit, |rows| Ok(rows.json(id.thing())?))?;
    let read = read_measurements(&table.text).map_err(|words| Problem::invalid("/text", words))?;
    if read.points.len() > MOST_VALUES {
        let words = format!("{} values are more than can be taken at once; at most {MOST_VALUES}.", read.points.len());
        return Err(Problem::TooLarge(words));
    }
    let today = call.today;
    let (points, ahead): (Vec<Point>, Vec<Point>) = read.points.into_iter().partition(|point| point.on <= today);
    let mut left_out = read.bad;
    left_out.extend(ahead.iter().map(|point| BadRow { row: 0, reason: format!("{} is still to come", point.on) }));
    let count = points.len();
    let saved = app.save(call, Right::Edit, move |tx| {
        tx.rows().json(id.thing())?;
        for point in points {
            put(tx, id, fields_of(json!({ "taken_on": point.on.to_string(), "value": point.value })))?;
        }
        tx.label(format!("noted {count} measurements of {id}"));
        Ok(Some(id.thing()))
    })?;
    Ok(MeasurementsRead { saved, read: count, left_out })
}

/// Writes a value of a day, over that which is there.
fn put(
    tx: &mut Tx<'_>,
    id: ObjectiveId,
    mut values: serde_json::Map<String, serde_json::Value>,
) -> Result<(), Problem> {
    let on = values["taken_on"].as_str().unwrap_or_default();
    let there = tx.rows().measured_of(id)?.into_iter().find(|value| value.point.on.to_string() == on);
    match there.and_then(|value| Some((value.measurement?.0, value))) {
        Some((measurement, there)) => {
            if Some(there.point.value) != values["value"].as_f64()
                || values.get("note").is_some_and(|note| !note.is_null())
            {
                tx.set(Thing::new(ThingKind::Measurement, measurement), &values)?;
            }
        }
        None => {
            values.insert("objective_id".into(), id.0.into());
            tx.insert(ThingKind::Measurement, &values)?;
        }
    }
    Ok(())
}

/// Says that an idea, an initiative or a release serves an objective, and how much of the way it is to bring.
///
/// # Errors
/// Where the part is no share, or the thing cannot serve an objective.
pub fn serve(app: &App, call: &Call, id: ObjectiveId, serving: Serving) -> Result<Saved, Problem> {
    if serving.part.is_some_and(|part| !(0.0..=1.0).contains(&part)) {
        return Err(Problem::invalid("/part", "Say how much of the way it is to bring, from 0 to 1."));
    }
    app.save(call, Right::Edit, move |tx| {
        let ends = LinkEnds { kind: LinkKind::AsksFor, from: id.thing(), to: serving.thing };
        make_link(tx, ends)?;
        let rows = tx.rows();
        let name = name_of(&rows, serving.thing);
        if let Some(link) = rows.link(ends.kind, ends.from, ends.to)? {
            let link = Thing::new(ThingKind::Link, link);
            if rows.json(link)?["part"].as_f64() != serving.part {
                tx.set(link, &fields_of(json!({ "part": serving.part })))?;
            }
        }
        tx.label(match serving.part {
            Some(part) => format!("said that {name} brings {:.0} % of the way of {id}", part * 100.0),
            None => format!("put {name} behind {id}"),
        });
        Ok(Some(id.thing()))
    })
}

/// The objectives that an idea, an initiative or a release serves, each with how much.
///
/// # Errors
/// Where the right is missing.
pub fn serves(app: &App, call: &Call, thing: Thing) -> Result<Vec<ServedView>, Problem> {
    app.read(call, Right::Read, |rows| {
        let view = |(objective, title, part)| ServedView { objective, title, part };
        Ok(rows.served_by(thing)?.into_iter().map(view).collect())
    })
}

/// How an objective comes along, in a line for the trace.
pub(crate) fn comes_along(rows: &Rows<'_>, objective: &Objective) -> Result<String, Problem> {
    let unit = objective.unit.as_ref().map(|unit| format!(" {unit}")).unwrap_or_default();
    let at = rows.measured_of(objective.id)?.last().map(|value| format!(", at {}", value.point.value));
    Ok(format!("from {} to {}{unit}{}", objective.start_value, objective.target_value, at.unwrap_or_default()))
}
