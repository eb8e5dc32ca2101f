-- Files that were brought into projects, each kept once by the hash of its contents.
CREATE TABLE file (
    hash      TEXT PRIMARY KEY,
    packed    TEXT NOT NULL,              -- zlib and base64, as a project file carries it
    added     TEXT NOT NULL
);
