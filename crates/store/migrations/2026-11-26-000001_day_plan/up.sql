-- The days that are planned together: one row, as the kitchen is.
CREATE TABLE day_plans (
    id INTEGER PRIMARY KEY NOT NULL CHECK (id = 1),
    body TEXT NOT NULL,
    revision INTEGER NOT NULL,
    schema INTEGER NOT NULL DEFAULT 1
);
