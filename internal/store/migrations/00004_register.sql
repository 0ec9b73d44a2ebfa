-- +goose Up

-- Batteries that carry one vehicle together name each other. The coldest nights of the
-- workshop's place, by month, are typed once.
ALTER TABLE battery
  ADD COLUMN twin_id UUID NULL;
ALTER TABLE workshop
  ADD COLUMN lows JSON NULL;

-- +goose Down
ALTER TABLE workshop DROP COLUMN lows;
ALTER TABLE battery DROP COLUMN twin_id;
