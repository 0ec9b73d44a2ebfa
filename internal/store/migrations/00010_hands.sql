-- +goose Up

-- The job of the battery that stood in the same place before, and what the maker of the
-- vehicle asks of its battery, as far as anybody has said. guided counts what was done with
-- guides, so that two who work at once meet in a row that both write.
ALTER TABLE job
  ADD COLUMN follows UUID NULL,
  ADD COLUMN needs JSON NULL,
  ADD COLUMN guided INT NOT NULL DEFAULT 0,
  ADD KEY job_follows (workshop_id, follows);

-- A guide begun on a job: what was said of the vehicle, and why it is done. One of a kind
-- runs at a time.
CREATE TABLE guide_run (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  what VARCHAR(8) NOT NULL,
  site JSON NOT NULL,
  reason VARCHAR(300) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  begun_at DATETIME(6) NOT NULL,
  begun_by UUID NOT NULL,
  ended_at DATETIME(6) NULL,
  running VARCHAR(8) AS (IF(ended_at IS NULL, what, NULL)) STORED,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY guide_running (workshop_id, job_id, running),
  CONSTRAINT guide_of_job FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT guide_by FOREIGN KEY (workshop_id, begun_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What was done with it, one after the other: never changed, only added to. What was taken
-- off and put back is kept with each, and holds whatever becomes of the guide.
CREATE TABLE guide_event (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  run_id UUID NOT NULL,
  seq INT NOT NULL,
  kind VARCHAR(10) NOT NULL,
  step VARCHAR(20) NOT NULL,
  choice VARCHAR(90) NOT NULL,
  off JSON NOT NULL,
  back JSON NOT NULL,
  at DATETIME(6) NOT NULL,
  by_id UUID NOT NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY guide_seq (workshop_id, job_id, seq),
  CONSTRAINT guide_event_of FOREIGN KEY (workshop_id, run_id) REFERENCES guide_run (workshop_id, id),
  CONSTRAINT guide_event_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What stands on the shelf to be sold. One that has gone stays, with the job it went to.
CREATE TABLE stock (
  workshop_id UUID NOT NULL,
  battery_id UUID NOT NULL,
  item JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  added_at DATETIME(6) NOT NULL,
  gone_at DATETIME(6) NULL,
  gone_to UUID NULL,
  PRIMARY KEY (workshop_id, battery_id),
  KEY stock_shelf (workshop_id, gone_at),
  CONSTRAINT stock_battery FOREIGN KEY (workshop_id, battery_id) REFERENCES battery (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What somebody counts a torque in.
ALTER TABLE person ADD COLUMN torque VARCHAR(4) NOT NULL DEFAULT 'Nm';

-- +goose Down
ALTER TABLE person DROP COLUMN torque;
DROP TABLE stock;
DROP TABLE guide_event;
DROP TABLE guide_run;
ALTER TABLE job DROP KEY job_follows, DROP COLUMN guided, DROP COLUMN needs, DROP COLUMN follows;
