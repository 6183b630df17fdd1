-- Where this program has written backups: who is forgotten is told which of them still hold the id.
CREATE TABLE backups (
    path       TEXT PRIMARY KEY,
    written_at TEXT NOT NULL
) STRICT;
