-- Devices of the household that were let in, and what each is signed in by. Of a session's key only its hash is kept.
CREATE TABLE devices (
    id INTEGER PRIMARY KEY NOT NULL,
    name TEXT NOT NULL,
    role TEXT NOT NULL,
    added_at TEXT NOT NULL,
    seen_at TEXT NOT NULL
);

CREATE TABLE sessions (
    key_hash TEXT PRIMARY KEY NOT NULL,
    device_id INTEGER NOT NULL REFERENCES devices (id) ON DELETE CASCADE,
    body TEXT NOT NULL,
    ends_at TEXT NOT NULL
);

-- Own ingredients that were deleted, for as long as that can be taken back.
CREATE TABLE bin (
    id INTEGER PRIMARY KEY NOT NULL,
    body TEXT NOT NULL,
    schema INTEGER NOT NULL,
    deleted_at TEXT NOT NULL
);
