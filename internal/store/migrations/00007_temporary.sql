-- +goose Up

ALTER TABLE person ADD COLUMN passphrase_at DATETIME(6) NULL; -- since when it stands; from the start when NULL

-- Temporary ones are good for some days, those that stand already from now on.
UPDATE person SET passphrase_at = UTC_TIMESTAMP(6) WHERE must_change;

-- +goose Down

ALTER TABLE person DROP COLUMN passphrase_at;
