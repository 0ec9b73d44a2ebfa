-- +goose Up

-- When anything of a job last changed, its readings and rests too: other devices
-- ask for what was touched since they last looked.
ALTER TABLE job
  ADD COLUMN touched_at DATETIME(6) NOT NULL DEFAULT '2000-01-01 00:00:00',
  ADD KEY job_touched (workshop_id, touched_at);

-- +goose Down
ALTER TABLE job DROP KEY job_touched, DROP COLUMN touched_at;
