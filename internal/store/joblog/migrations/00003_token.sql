-- What the program that opened a job made up for it: where the connection is lost while the
-- job is being written, it tells whether it was.

-- +goose Up
ALTER TABLE jobs ADD COLUMN token TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE jobs DROP COLUMN token;
