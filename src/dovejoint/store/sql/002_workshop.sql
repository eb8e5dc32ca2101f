-- The measured world: profiles with their history, revisions, trials, readings and verdicts.
CREATE TABLE profile_version (
    profile   TEXT NOT NULL,
    version   INTEGER NOT NULL,
    data      TEXT NOT NULL,              -- the profile as JSON; never changed, only followed
    reason    TEXT NOT NULL,
    at        TEXT NOT NULL,
    PRIMARY KEY (profile, version)
);
CREATE TABLE revision (
    project   TEXT NOT NULL REFERENCES project(id) ON DELETE CASCADE,
    number    INTEGER NOT NULL,
    note      TEXT NOT NULL,
    document  TEXT NOT NULL,              -- the frozen project document as JSON
    at        TEXT NOT NULL,
    PRIMARY KEY (project, number)
);
CREATE TABLE trial (
    id        TEXT PRIMARY KEY,
    project   TEXT NOT NULL REFERENCES project(id) ON DELETE CASCADE,
    number    INTEGER NOT NULL,
    revision  INTEGER,                    -- NULL for a coupon, which rests on no revision
    coupon    TEXT NOT NULL DEFAULT '',
    profile   TEXT NOT NULL,
    profile_version INTEGER NOT NULL,
    machine   INTEGER,                    -- number of the simulated printer; NULL for one's own
    state     TEXT NOT NULL CHECK (state IN ('printing', 'done', 'stopped')),
    note      TEXT NOT NULL DEFAULT '',
    printed   TEXT NOT NULL,              -- JSON: parts with their features and pieces, joints, ladder, estimate
    began     TEXT NOT NULL,
    ended     TEXT,
    UNIQUE (project, number)
);
CREATE TABLE reading (
    id        INTEGER PRIMARY KEY,
    trial     TEXT NOT NULL REFERENCES trial(id) ON DELETE CASCADE,
    feature   TEXT NOT NULL,
    measured_mm   REAL NOT NULL,
    resolution_mm REAL NOT NULL,
    source    TEXT NOT NULL CHECK (source IN ('typed', 'caliper')),
    excluded  INTEGER NOT NULL DEFAULT 0,
    at        TEXT NOT NULL
);
CREATE TABLE verdict (
    id        INTEGER PRIMARY KEY,
    trial     TEXT NOT NULL REFERENCES trial(id) ON DELETE CASCADE,  -- the later of the two halves' prints
    joint     TEXT NOT NULL,
    verdict   TEXT NOT NULL,
    went_in   INTEGER,                    -- of a gap ladder: how many openings took the plug
    source    TEXT NOT NULL CHECK (source IN ('said', 'simulated')),
    evidence  TEXT NOT NULL,              -- JSON: the gap that was drawn, what the joint needs, how its halves lay
    at        TEXT NOT NULL
);
CREATE TABLE dismissal (
    profile   TEXT NOT NULL,
    evidence  TEXT NOT NULL,              -- hash of the evidence that the dismissed proposal rested on
    at        TEXT NOT NULL,
    PRIMARY KEY (profile, evidence)
);
CREATE INDEX reading_of_trial ON reading (trial);
CREATE INDEX verdict_of_trial ON verdict (trial);
