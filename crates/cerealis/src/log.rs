//! The log: a line of JSON for each thing, on standard error. Which are noted is said by `RUST_LOG`; warnings and errors
//! when it is not set.

use std::io::Write;

use ::log::kv::{self, Key, Value, VisitSource};
use cerealis_store::Clock;
use env_logger::{Builder, Env};
use serde_json::{Map, json};

/// The further figures of a record.
struct Figures<'m>(&'m mut Map<String, serde_json::Value>);

impl<'kvs> VisitSource<'kvs> for Figures<'_> {
    fn visit_pair(&mut self, key: Key<'kvs>, value: Value<'kvs>) -> Result<(), kv::Error> {
        let figure = match (value.to_u64(), value.to_f64()) {
            (Some(n), _) => json!(n),
            (None, Some(x)) => json!((x * 1e3).round() / 1e3),
            _ => json!(value.to_string()),
        };
        self.0.insert(key.as_str().to_owned(), figure);
        Ok(())
    }
}

/// Begins it.
pub fn begin() {
    let line = |out: &mut env_logger::fmt::Formatter, record: &::log::Record<'_>| {
        let mut all = Map::new();
        all.insert("at".into(), json!(Clock::system().now().to_string()));
        all.insert("level".into(), json!(record.level().as_str().to_lowercase()));
        all.insert("from".into(), json!(record.target()));
        all.insert("says".into(), json!(record.args().to_string()));
        let _ = record.key_values().visit(&mut Figures(&mut all));
        writeln!(out, "{}", serde_json::Value::Object(all))
    };
    Builder::from_env(Env::default().default_filter_or("warn")).format(line).init();
}
