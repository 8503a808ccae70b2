-- Bakes: what each began with, and what happened to it since. Events are only ever added; seq counts over all bakes, so that
-- a page that missed some knows what to ask for.
CREATE TABLE bakes (
    id INTEGER PRIMARY KEY NOT NULL,
    formula_id INTEGER REFERENCES formulas (id) ON DELETE SET NULL,
    name TEXT NOT NULL,
    body TEXT NOT NULL,
    schema INTEGER NOT NULL,
    begun_at TEXT NOT NULL,
    ended_at TEXT
);

CREATE INDEX bakes_by_end ON bakes (ended_at, begun_at);
CREATE INDEX bakes_by_formula ON bakes (formula_id);

CREATE TABLE bake_events (
    seq INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    bake_id INTEGER NOT NULL REFERENCES bakes (id),
    key TEXT NOT NULL,
    said_at TEXT NOT NULL,
    body TEXT NOT NULL,
    UNIQUE (bake_id, key)
);
