-- +goose Up

-- Counted up by whatever depends on them staying as they are, so that on a cluster, where
-- a lock is one node's own, two changes at once meet in a row that both write.
ALTER TABLE workshop ADD COLUMN people_version INT NOT NULL DEFAULT 0;
ALTER TABLE person ADD COLUMN sign_ins INT NOT NULL DEFAULT 0;

-- +goose Down

ALTER TABLE person DROP COLUMN sign_ins;
ALTER TABLE workshop DROP COLUMN people_version;
