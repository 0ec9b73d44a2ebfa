-- +goose Up

-- A job's log is in the order of its own count, whatever the clock did meanwhile.
ALTER TABLE reading ADD COLUMN seq INT NOT NULL DEFAULT 0;
UPDATE reading r JOIN (
    SELECT workshop_id, id, ROW_NUMBER() OVER (PARTITION BY workshop_id, job_id ORDER BY saved_at, place, id) AS n FROM reading
  ) o ON o.workshop_id = r.workshop_id AND o.id = r.id
  SET r.seq = o.n;
ALTER TABLE reading
  ADD UNIQUE KEY reading_log (workshop_id, job_id, seq),
  DROP KEY reading_job;
ALTER TABLE job ADD COLUMN entries INT NOT NULL DEFAULT 0; -- readings and corrections
UPDATE job j SET entries = (SELECT COUNT(*) FROM reading r WHERE r.workshop_id = j.workshop_id AND r.job_id = j.id);

-- What a job is found by, small and folded, so that looking through years of jobs
-- reads little. The program fills what is missing.
ALTER TABLE job
  DROP COLUMN vehicle_name,
  DROP COLUMN tag,
  ADD COLUMN find VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL;

-- The number last given out as a tag: the next is asked for at every job.
ALTER TABLE workshop ADD COLUMN last_tag INT NOT NULL DEFAULT 0;
UPDATE workshop w SET last_tag = COALESCE((
    SELECT MAX(CAST(SUBSTRING(b.tag, CHAR_LENGTH(w.tag_prefix) + 2) AS UNSIGNED)) FROM battery b
    WHERE b.workshop_id = w.id AND b.tag REGEXP CONCAT('^', w.tag_prefix, '-[0-9]{1,9}$')), 0);

-- Capitals do not tell tags and names apart; accents do, and so does a space.
ALTER TABLE battery MODIFY tag VARCHAR(40) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_ci NOT NULL;
ALTER TABLE person MODIFY name VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_ci NOT NULL;

-- What was changed, by whom, when, from what to what. Only ever added to. Readings and
-- house rules keep theirs themselves, too.
CREATE TABLE history (
  id BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  workshop_id UUID NOT NULL,
  at DATETIME(6) NOT NULL,
  by_id UUID NULL, -- nobody who was signed in, where a sign-in failed
  what VARCHAR(24) NOT NULL,
  job_id UUID NULL,
  about VARCHAR(120) NOT NULL,
  was JSON NULL,
  became JSON NULL,
  KEY history_shop (workshop_id, at, id),
  KEY history_job (workshop_id, job_id, at, id),
  CONSTRAINT history_of FOREIGN KEY (workshop_id) REFERENCES workshop (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- +goose Down
DROP TABLE history;
ALTER TABLE person MODIFY name VARCHAR(80) CHARACTER SET utf8mb4 NOT NULL;
ALTER TABLE battery MODIFY tag VARCHAR(40) CHARACTER SET utf8mb4 NOT NULL;
ALTER TABLE workshop DROP COLUMN last_tag;
ALTER TABLE job
  DROP COLUMN find,
  ADD COLUMN vehicle_name VARCHAR(80) AS (JSON_VALUE(vehicle, '$.name')) STORED,
  ADD COLUMN tag VARCHAR(40) AS (JSON_VALUE(battery, '$.tag')) STORED,
  DROP COLUMN entries;
ALTER TABLE reading
  ADD KEY reading_job (workshop_id, job_id, place),
  DROP KEY reading_log,
  DROP COLUMN seq;
