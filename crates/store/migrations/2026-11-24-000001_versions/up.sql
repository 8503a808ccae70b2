-- Every saved state of a formula, with what changed. The first of those that are there already is
-- how they stand now.
CREATE TABLE versions (
    id INTEGER PRIMARY KEY NOT NULL,
    formula_id INTEGER NOT NULL REFERENCES formulas (id),
    revision INTEGER NOT NULL,
    body TEXT NOT NULL,
    reason TEXT NOT NULL,
    saved_at TEXT NOT NULL,
    UNIQUE (formula_id, revision)
);

INSERT INTO versions (formula_id, revision, body, reason, saved_at)
SELECT id, revision, body, 'As it stood', updated_at FROM formulas;
