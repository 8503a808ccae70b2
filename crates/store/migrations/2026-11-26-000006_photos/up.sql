-- Photos of bakes, by the SHA-256 of their bytes: the same one twice is there once.
CREATE TABLE photos (
    name TEXT PRIMARY KEY NOT NULL,
    bytes BLOB NOT NULL,
    taken_in TEXT NOT NULL
);
