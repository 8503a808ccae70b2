-- What each document was written as: a newer one is refused, not cut down.
ALTER TABLE formulas ADD COLUMN schema INTEGER NOT NULL DEFAULT 1;
ALTER TABLE versions ADD COLUMN schema INTEGER NOT NULL DEFAULT 1;
ALTER TABLE kitchens ADD COLUMN schema INTEGER NOT NULL DEFAULT 1;
ALTER TABLE cupboards ADD COLUMN schema INTEGER NOT NULL DEFAULT 1;
ALTER TABLE doughs ADD COLUMN schema INTEGER NOT NULL DEFAULT 1;

-- What is known of the file itself: whether it is a demo.
CREATE TABLE settings (
    key TEXT PRIMARY KEY NOT NULL,
    value TEXT NOT NULL
);

-- Records that do not read, moved out of the way of what is saved over them.
CREATE TABLE set_aside (
    id INTEGER PRIMARY KEY NOT NULL,
    kind TEXT NOT NULL,
    name TEXT NOT NULL,
    body BLOB NOT NULL,
    set_aside_at TEXT NOT NULL
);
