-- "CRLS": marks the file as ours.
PRAGMA application_id = 1129466963;

CREATE TABLE formulas (
    id INTEGER PRIMARY KEY NOT NULL,
    body TEXT NOT NULL,
    revision INTEGER NOT NULL,
    updated_at TEXT NOT NULL,
    deleted_at TEXT
);

CREATE TABLE kitchens (
    id INTEGER PRIMARY KEY NOT NULL CHECK (id = 1),
    body TEXT NOT NULL,
    revision INTEGER NOT NULL
);
