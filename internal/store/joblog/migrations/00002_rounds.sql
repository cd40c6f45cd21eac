-- Rounds that several hosts work on together. A part that is being worked on is held by a row
-- lock; one that is done holds what came of it.

-- +goose Up
CREATE TABLE rounds (
    name  TEXT PRIMARY KEY,
    sum   TEXT NOT NULL,
    began TEXT NOT NULL
);

CREATE TABLE round_parts (
    round TEXT NOT NULL REFERENCES rounds (name),
    doing TEXT NOT NULL,
    part  BIGINT NOT NULL,
    came  BYTEA,
    PRIMARY KEY (round, doing, part)
);

-- +goose Down
DROP TABLE round_parts;
DROP TABLE rounds;
