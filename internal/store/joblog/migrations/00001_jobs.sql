-- The job log, for SQLite and PostgreSQL alike. Days and times are texts in the order of
-- time, sizes are MiB; a job's row carries a version that grows with each change.

-- +goose Up
CREATE TABLE counters (
    year BIGINT PRIMARY KEY,
    last BIGINT NOT NULL
);

CREATE TABLE jobs (
    job        TEXT PRIMARY KEY,
    opened     TEXT NOT NULL,
    closed     TEXT NOT NULL,
    card       TEXT NOT NULL,
    title      TEXT NOT NULL,
    maker      TEXT NOT NULL,
    model      TEXT NOT NULL,
    board      TEXT NOT NULL,
    make       TEXT NOT NULL,
    made       TEXT NOT NULL,
    sum        TEXT NOT NULL,
    state      TEXT NOT NULL,
    before_mib BIGINT NOT NULL,
    after_mib  BIGINT NOT NULL,
    copy       TEXT NOT NULL,
    version    BIGINT NOT NULL
);
CREATE INDEX jobs_make ON jobs (make);

CREATE TABLE events (
    job  TEXT NOT NULL REFERENCES jobs (job),
    seq  BIGINT NOT NULL,
    at   TEXT NOT NULL,
    did  TEXT NOT NULL,
    says TEXT NOT NULL,
    PRIMARY KEY (job, seq)
);

CREATE TABLE lessons (
    job       TEXT NOT NULL REFERENCES jobs (job),
    seq       BIGINT NOT NULL,
    kind      TEXT NOT NULL,
    total_mib BIGINT NOT NULL,
    each_mib  BIGINT NOT NULL,
    rate_mts  BIGINT NOT NULL,
    modules   TEXT NOT NULL,
    says      TEXT NOT NULL,
    date      TEXT NOT NULL,
    withdrawn BOOLEAN NOT NULL,
    PRIMARY KEY (job, seq)
);

-- +goose Down
DROP TABLE lessons;
DROP TABLE events;
DROP TABLE jobs;
DROP TABLE counters;
