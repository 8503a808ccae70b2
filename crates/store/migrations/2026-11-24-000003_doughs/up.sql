-- Doughs that are rising, or have risen: one at a time for a formula.
CREATE TABLE doughs (
    id INTEGER PRIMARY KEY NOT NULL,
    formula_id INTEGER NOT NULL REFERENCES formulas (id),
    body TEXT NOT NULL,
    revision INTEGER NOT NULL,
    ended_at TEXT
);

CREATE UNIQUE INDEX one_rising_dough ON doughs (formula_id) WHERE ended_at IS NULL;
