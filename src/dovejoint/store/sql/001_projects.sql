-- Projects, the journal of their commands, and every change of version (commands, undo, redo).
CREATE TABLE project (
    id        TEXT PRIMARY KEY,
    name      TEXT NOT NULL,
    document  TEXT NOT NULL,              -- the project document as JSON
    version   INTEGER NOT NULL DEFAULT 0, -- counts every change, undo and redo included
    position  INTEGER NOT NULL DEFAULT 0, -- how many journal entries stand at present
    created   TEXT NOT NULL,
    changed   TEXT NOT NULL
);
CREATE TABLE journal (
    id        INTEGER PRIMARY KEY,
    project   TEXT NOT NULL REFERENCES project(id) ON DELETE CASCADE,
    place     INTEGER,                    -- 1-based; NULL once another command took the place after an undo
    command   TEXT NOT NULL,
    forward   TEXT NOT NULL,              -- JSON Patch (RFC 6902) from before to after
    inverse   TEXT NOT NULL,              -- and back
    touches   TEXT NOT NULL,              -- JSON list of the objects concerned
    sentence  TEXT NOT NULL,
    at        TEXT NOT NULL,
    UNIQUE (project, place)
);
CREATE TABLE change (
    project   TEXT NOT NULL REFERENCES project(id) ON DELETE CASCADE,
    version   INTEGER NOT NULL,
    kind      TEXT NOT NULL CHECK (kind IN ('do', 'undo', 'redo')),
    touches   TEXT NOT NULL,
    sentence  TEXT NOT NULL,
    at        TEXT NOT NULL,
    PRIMARY KEY (project, version)
);
