//! Whether what the API answers is what its description says: the client's types are made of that.

use std::collections::BTreeSet;

use serde_json::{Map, Value};

/// What the API says of itself.
pub(crate) struct Described(Value);

impl Described {
    pub(crate) fn new(description: Value) -> Self {
        Described(description)
    }

    /// What of an answer in JSON is not as it is described, in words.
    pub(crate) fn faults(&self, method: &str, path: &str, status: u16, body: &Value) -> Vec<String> {
        let Some(operation) = self.operation(method, path) else {
            // Where there is no such route, that is the right answer.
            return if status == 404 { Vec::new() } else { vec!["it is not described".to_owned()] };
        };
        let answers = &operation["responses"];
        let answer = answers.get(status.to_string()).unwrap_or(&answers["default"]);
        let content = &answer["content"];
        match content.get("application/json").or_else(|| content.get("application/problem+json")) {
            Some(content) => self.of(&content["schema"], body, "", true),
            None => vec![format!("an answer {status} in JSON is not described")],
        }
    }

    fn operation(&self, method: &str, path: &str) -> Option<&Value> {
        let asked: Vec<&str> = path.split('?').next()?.split('/').collect();
        let fits = |template: &str| {
            let parts: Vec<&str> = template.trim_start_matches("/api/v1/").split('/').collect();
            let same = |(part, asked): (&&str, &&str)| part == asked || (part.starts_with('{') && part.ends_with('}'));
            parts.len() == asked.len() && parts.iter().zip(&asked).all(same)
        };
        let paths = self.0["paths"].as_object()?;
        // Of several, the one that leaves least open.
        let (_, item) =
            paths.iter().filter(|(path, _)| fits(path)).min_by_key(|(path, _)| path.matches('{').count())?;
        item.get(method.to_lowercase())
    }

    /// A schema without the reference to it.
    fn behind<'a>(&'a self, schema: &'a Value) -> &'a Value {
        let name = schema["$ref"].as_str().and_then(|to| to.rsplit('/').next());
        name.map_or(schema, |name| self.behind(&self.0["components"]["schemas"][name]))
    }

    /// The faults of a value. Where it is `whole`, nothing may be in it that is not described.
    fn of(&self, schema: &Value, value: &Value, at: &str, whole: bool) -> Vec<String> {
        let schema = self.behind(schema);
        let parts = |name: &str| schema[name].as_array().map(Vec::as_slice).unwrap_or_default();
        let mut faults: Vec<String> = parts("allOf").iter().flat_map(|part| self.of(part, value, at, false)).collect();
        if let Some(one) = schema.get("oneOf").and_then(Value::as_array) {
            let each: Vec<Vec<String>> = one.iter().map(|one| self.of(one, value, at, whole)).collect();
            let fit = each.iter().filter(|faults| faults.is_empty()).count();
            match fit {
                1 => {}
                0 => faults.extend(each.into_iter().min_by_key(Vec::len).unwrap_or_default()),
                _ => faults.push(format!("{at} may be read in {fit} ways: {}", short(value))),
            }
        }
        if !is_of(&schema["type"], value) {
            faults.push(format!("{at} is no {}: {}", schema["type"], short(value)));
        }
        if let Some(choices) = schema["enum"].as_array().filter(|choices| !choices.contains(value)) {
            faults.push(format!("{at} is none of {choices:?}: {}", short(value)));
        }
        if schema["minimum"].as_f64().zip(value.as_f64()).is_some_and(|(least, number)| number < least) {
            faults.push(format!("{at} is too small: {}", short(value)));
        }
        if let Some(list) = value.as_array() {
            let item = |place: usize| parts("prefixItems").get(place).or_else(|| schema.get("items"));
            let of = |(place, one)| item(place).map(|item| self.of(item, one, &format!("{at}/{place}"), true));
            faults.extend(list.iter().enumerate().filter_map(of).flatten());
        }
        if let Some(fields) = value.as_object() {
            faults.extend(self.of_fields(schema, fields, at, whole));
        }
        faults
    }

    fn of_fields(&self, schema: &Value, fields: &Map<String, Value>, at: &str, whole: bool) -> Vec<String> {
        let names = schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str);
        let missing = names.filter(|name| !fields.contains_key(*name));
        let mut faults: Vec<String> = missing.map(|name| format!("{at}/{name} is missing")).collect();
        for (name, value) in fields {
            let described = schema["properties"].get(name).or_else(|| schema.get("additionalProperties"));
            let described = described.filter(|schema| schema.is_object());
            faults.extend(described.into_iter().flat_map(|one| self.of(one, value, &format!("{at}/{name}"), true)));
        }
        if let Some(known) = self.fields(schema).filter(|_| whole) {
            let unknown = fields.keys().filter(|name| !known.contains(name.as_str()));
            faults.extend(unknown.map(|name| format!("{at}/{name} is not described")));
        }
        faults
    }

    /// The fields that a schema has in any of its forms; nothing where there may be any.
    fn fields<'a>(&'a self, schema: &'a Value) -> Option<BTreeSet<&'a str>> {
        let schema = self.behind(schema);
        let parts: Vec<&Value> =
            ["allOf", "oneOf"].iter().filter_map(|name| schema[*name].as_array()).flatten().collect();
        let own = schema["properties"].as_object();
        if schema.get("additionalProperties").is_some() || (parts.is_empty() && own.is_none()) {
            return None;
        }
        let mut known: BTreeSet<&str> = own.into_iter().flatten().map(|(name, _)| name.as_str()).collect();
        for part in parts {
            known.extend(self.fields(part)?);
        }
        Some(known)
    }
}

/// The beginning of a value: a whole workspace is too much to read.
fn short(value: &Value) -> String {
    value.to_string().chars().take(200).collect()
}

/// Whether a value is of a type, or of one of several; of any where none is named.
fn is_of(types: &Value, value: &Value) -> bool {
    let one = |name: &Value| match name.as_str().unwrap_or_default() {
        "null" => value.is_null(),
        "boolean" => value.is_boolean(),
        "integer" => value.is_i64() || value.is_u64(),
        "number" => value.is_number(),
        "string" => value.is_string(),
        "array" => value.is_array(),
        "object" => value.is_object(),
        _ => true,
    };
    types.as_array().map_or_else(|| one(types), |types| types.iter().any(one))
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn described() -> Described {
        let reference = |name: &str| json!({ "$ref": format!("#/components/schemas/{name}") });
        let answer = |schema: Value| json!({ "content": { "application/json": { "schema": schema } } });
        let get = |schema: Value| json!({ "get": { "responses": { "200": answer(schema), "default": answer(reference("Problem")) } } });
        Described::new(json!({
            "paths": {
                "/api/v1/boats/{id}": get(reference("Boat")),
                "/api/v1/boats/first": get(json!({ "type": "string" })),
                "/api/v1/ports": get(json!({ "type": "array", "items": reference("Port") })),
            },
            "components": { "schemas": {
                "Problem": { "type": "object", "required": ["code"], "properties": { "code": { "type": "string" } } },
                "Thing": { "type": "object", "required": ["id"], "properties": { "id": { "type": "integer", "minimum": 1 } } },
                "Boat": { "allOf": [reference("Thing"), {
                    "type": "object",
                    "required": ["name"],
                    "properties": {
                        "name": { "type": ["string", "null"] },
                        "state": { "type": "string", "enum": ["afloat", "docked"] },
                        "marks": { "type": "object", "additionalProperties": { "type": "number" } },
                    },
                }] },
                "Port": { "oneOf": [
                    { "type": "object", "required": ["depth"], "properties": { "depth": { "type": "number" } } },
                    { "type": "object", "required": ["beach"], "properties": { "beach": { "type": "boolean" } } },
                ] },
            } },
        }))
    }

    #[test]
    fn what_is_as_described_has_no_faults() {
        let described = described();
        let boat = json!({ "id": 1, "name": null, "state": "afloat", "marks": { "speed": 9.5 } });
        for (path, body) in [
            ("boats/7", boat),
            ("boats/first?product=1", json!("Puffin")),
            ("ports", json!([{ "depth": 3 }, { "beach": true }])),
        ] {
            assert_eq!(described.faults("GET", path, 200, &body), Vec::<String>::new(), "{path}");
        }
        assert_eq!(described.faults("GET", "ports", 404, &json!({ "code": "none" })), Vec::<String>::new());
    }

    #[test]
    fn each_fault_is_named_with_its_place() {
        let described = described();
        let faults = |path: &str, body: Value| described.faults("GET", path, 200, &body);
        let boat = json!({ "id": 0, "state": "sunk", "marks": { "speed": "fast" }, "crew": 4 });
        let mut found = faults("boats/7", boat);
        found.sort();
        let begins =
            ["/crew is not", "/id is too small", "/marks/speed is no", "/name is missing", "/state is none of"];
        assert!(
            found.len() == 5 && found.iter().zip(begins).all(|(fault, begin)| fault.starts_with(begin)),
            "{found:?}"
        );
        assert_eq!(faults("ports", json!([{ "depth": 3, "beach": true }])).len(), 1);
        assert_eq!(faults("ports", json!([{}])), ["/0/depth is missing"]);
        assert_eq!(faults("ports", json!({}))[0], " is no \"array\": {}");
        assert_eq!(faults("harbours", json!([])), ["it is not described"]);
        assert_eq!(described.faults("GET", "harbours", 404, &json!({})), Vec::<String>::new());
        assert_eq!(described.faults("POST", "ports", 200, &json!([])), ["it is not described"]);
    }
}
