-- +goose Up
-- What work costs here. prices_version counts the changes, so that two who make one at once
-- meet in a row that both write.
ALTER TABLE workshop
  ADD COLUMN prices JSON NULL,
  ADD COLUMN prices_version INT NOT NULL DEFAULT 1,
  ADD COLUMN feed BINARY(32) NULL, -- the secret of the calendar of the whole workshop, hashed
  ADD UNIQUE KEY workshop_feed (feed);

-- How somebody writes figures.
ALTER TABLE person ADD COLUMN decimal_mark VARCHAR(5) NOT NULL DEFAULT 'point';

-- What was said work would cost. One that stands is never changed: another takes its place.
CREATE TABLE estimate (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  seq INT NOT NULL,
  doc JSON NOT NULL,
  fingerprint BINARY(32) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  made_by UUID NOT NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY estimate_seq (workshop_id, job_id, seq),
  CONSTRAINT estimate_of FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT estimate_by FOREIGN KEY (workshop_id, made_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- Who said yes or no to one, when. The last answer holds.
CREATE TABLE estimate_answer (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  estimate_id UUID NOT NULL,
  seq INT NOT NULL,
  accepted BOOLEAN NOT NULL,
  name VARCHAR(120) NOT NULL,
  at DATETIME(6) NOT NULL,
  by_id UUID NOT NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY answer_seq (workshop_id, estimate_id, seq),
  CONSTRAINT answer_of FOREIGN KEY (workshop_id, estimate_id) REFERENCES estimate (workshop_id, id),
  CONSTRAINT answer_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What somebody wrote down of a job. Never changed; what was wrong is taken back, and stays.
CREATE TABLE note (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  seq INT NOT NULL,
  body VARCHAR(2000) NOT NULL,
  shown BOOLEAN NOT NULL, -- on the report
  fingerprint BINARY(32) NOT NULL,
  at DATETIME(6) NOT NULL,
  by_id UUID NOT NULL,
  back_at DATETIME(6) NULL,
  back_by UUID NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY note_seq (workshop_id, job_id, seq),
  CONSTRAINT note_of FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT note_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- Pictures of label and damage, encoded anew when they came.
CREATE TABLE photo (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  seq INT NOT NULL,
  what VARCHAR(8) NOT NULL,
  caption VARCHAR(200) NOT NULL,
  shown BOOLEAN NOT NULL, -- on the report
  width INT NOT NULL,
  height INT NOT NULL,
  jpeg MEDIUMBLOB NOT NULL,
  small BLOB NOT NULL,
  fingerprint BINARY(32) NOT NULL, -- of what came
  at DATETIME(6) NOT NULL,
  by_id UUID NOT NULL,
  back_at DATETIME(6) NULL,
  back_by UUID NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY photo_seq (workshop_id, job_id, seq),
  CONSTRAINT photo_of FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT photo_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What a job is found by beside its tag, vehicle and customer: notes and what was concluded,
-- folded. Made anew by the program when the job has changed since.
CREATE TABLE found (
  workshop_id UUID NOT NULL,
  job_id UUID NOT NULL,
  text MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  touched_at DATETIME(6) NOT NULL, -- the job's, when this was made
  made_at DATETIME(6) NOT NULL,
  PRIMARY KEY (workshop_id, job_id),
  KEY found_made (workshop_id, made_at),
  CONSTRAINT found_of FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- The day somebody looks at a battery again, as it was said when it was handed over. Counts
-- of what hangs on a job, in a row that all who add to it write.
ALTER TABLE reading
  ADD COLUMN next_check VARCHAR(10) AS (JSON_VALUE(body, '$.next_check')) STORED,
  ADD KEY reading_next (workshop_id, next_check);
ALTER TABLE job
  ADD COLUMN papers INT NOT NULL DEFAULT 0, -- notes, photos, estimates and answers
  -- What was here last of the same vehicle is asked for whenever a job opens.
  ADD COLUMN vehicle_name VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_ci AS (JSON_VALUE(vehicle, '$.name')) STORED,
  ADD KEY job_vehicle (workshop_id, vehicle_name, closed_at);

-- +goose Down
ALTER TABLE job DROP KEY job_vehicle, DROP COLUMN vehicle_name, DROP COLUMN papers;
ALTER TABLE reading DROP KEY reading_next, DROP COLUMN next_check;
DROP TABLE found;
DROP TABLE photo;
DROP TABLE note;
DROP TABLE estimate_answer;
DROP TABLE estimate;
ALTER TABLE person DROP COLUMN decimal_mark;
ALTER TABLE workshop DROP KEY workshop_feed, DROP COLUMN feed, DROP COLUMN prices_version, DROP COLUMN prices;
