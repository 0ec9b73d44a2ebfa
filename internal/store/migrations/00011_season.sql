-- +goose Up

-- How warm the months of the workshop's place are; none where only the coldest nights were
-- typed. weathered counts what was said of single days.
ALTER TABLE workshop
  ADD COLUMN means JSON NULL,
  ADD COLUMN weathered INT NOT NULL DEFAULT 0;

-- Days as they were or are forecast; who knows better later says so again.
CREATE TABLE weather (
  workshop_id UUID NOT NULL,
  day DATE NOT NULL,
  low_c DECIMAL(4,1) NOT NULL,
  mean_c DECIMAL(4,1) NULL,
  said_at DATETIME(6) NOT NULL,
  PRIMARY KEY (workshop_id, day),
  CONSTRAINT weather_of FOREIGN KEY (workshop_id) REFERENCES workshop (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- A battery that stands. One that was woken stays, and can be put away anew. looked counts
-- what was seen of it.
CREATE TABLE stored (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  battery_id UUID NOT NULL,
  doc JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  looked INT NOT NULL DEFAULT 0,
  fingerprint BINARY(32) NOT NULL,
  put_at DATETIME(6) NOT NULL,
  put_by UUID NOT NULL,
  woken_at DATETIME(6) NULL,
  woken_by UUID NULL,
  standing UUID AS (IF(woken_at IS NULL, battery_id, NULL)) STORED,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY stored_once (workshop_id, standing),
  KEY stored_battery (workshop_id, battery_id, put_at),
  CONSTRAINT stored_of FOREIGN KEY (workshop_id, battery_id) REFERENCES battery (workshop_id, id),
  CONSTRAINT stored_by FOREIGN KEY (workshop_id, put_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- What was seen of one, never changed: what was wrong is taken back, and stays.
CREATE TABLE stored_look (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  stored_id UUID NOT NULL,
  seq INT NOT NULL,
  look JSON NOT NULL,
  at DATETIME(6) NOT NULL,
  saved_at DATETIME(6) NOT NULL,
  by_id UUID NOT NULL,
  back_at DATETIME(6) NULL,
  back_by UUID NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY look_seq (workshop_id, stored_id, seq),
  CONSTRAINT look_of FOREIGN KEY (workshop_id, stored_id) REFERENCES stored (workshop_id, id),
  CONSTRAINT look_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- The address a calendar asks for, of one person; whoever has it reads the dates.
ALTER TABLE person ADD COLUMN feed BINARY(32) NULL, ADD UNIQUE KEY person_feed (feed);

-- +goose Down
ALTER TABLE person DROP KEY person_feed, DROP COLUMN feed;
DROP TABLE stored_look;
DROP TABLE stored;
DROP TABLE weather;
ALTER TABLE workshop DROP COLUMN weathered, DROP COLUMN means;
