-- The household's own ingredients and prices: one row, as the kitchen is.
CREATE TABLE cupboards (
    id INTEGER PRIMARY KEY NOT NULL CHECK (id = 1),
    body TEXT NOT NULL,
    revision INTEGER NOT NULL
);

-- Formulas put away without being deleted.
ALTER TABLE formulas ADD COLUMN archived_at TEXT;
