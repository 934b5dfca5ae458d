//! A query checked against the fields of its collection, on its way to the store.

use iron_kite_core::fields::{Checked, Collection, Condition, Context, FieldDef, Query, check_query, group_condition};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::ProductId;
use iron_kite_store::Rows;
use iron_kite_store::queries::collections::Of;
use iron_kite_store::queries::fields::Catalogue;
use jiff::civil::Date;
use serde_json::Value;

use crate::call::Call;

/// The fields, and the checked query.
pub(super) struct Asked {
    pub(super) catalogue: Catalogue,
    pub(super) fields: Vec<FieldDef>,
    pub(super) checked: Checked,
    collection: Collection,
    product: ProductId,
    today: Date,
}

impl Asked {
    /// Checks a query.
    pub(super) fn check(
        rows: &Rows<'_>,
        call: &Call,
        collection: Collection,
        product: ProductId,
        query: &Query,
    ) -> Result<Self, Problem> {
        let catalogue = rows.catalogue()?;
        let fields = catalogue.of(collection);
        let me = call.user_id();
        let context = Context { fields: &fields, today: call.today, me };
        let checked = check_query(query, &context).map_err(Problem::Invalid)?;
        Ok(Asked { catalogue, fields, checked, collection, product, today: call.today })
    }

    /// Narrows the query to one group, by its keys.
    pub(super) fn within(&mut self, keys: &[Value]) -> Result<(), Problem> {
        let mut parts = vec![self.checked.condition.clone()];
        for (n, key) in keys.iter().enumerate() {
            let part = self.checked.group.get(n).and_then(|group| group_condition(group, key));
            parts.push(
                part.ok_or_else(|| Problem::invalid(format!("/within/{n}"), "There is no group with this key."))?,
            );
        }
        self.checked.condition = Condition::All(parts);
        Ok(())
    }

    /// Whose rows are asked for.
    pub(super) fn of(&self) -> Of<'_> {
        Of { catalogue: &self.catalogue, collection: self.collection, product: self.product, today: self.today }
    }
}
