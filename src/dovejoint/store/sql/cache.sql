-- Results that can be made again at any time.
CREATE TABLE IF NOT EXISTS evaluation (key TEXT PRIMARY KEY, report TEXT NOT NULL, used INTEGER NOT NULL);
CREATE TABLE IF NOT EXISTS mesh (hash TEXT PRIMARY KEY, blob BLOB NOT NULL);
