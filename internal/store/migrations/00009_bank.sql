-- +goose Up

-- When a battery is promised back.
ALTER TABLE job ADD COLUMN promised_at DATETIME(6) NULL;

-- What a battery is left alone for: its voltage, its warmth, parts.
ALTER TABLE rest ADD COLUMN kind VARCHAR(8) NOT NULL DEFAULT 'rest';

-- The shop's chargers. A name is given again once its charger is retired. hung is counted
-- up by every battery that is hung on it, so that two at once meet in a row that both
-- write.
CREATE TABLE charger (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  name VARCHAR(20) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_ci NOT NULL,
  unit JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  hung INT NOT NULL DEFAULT 0,
  added_at DATETIME(6) NOT NULL,
  retired_at DATETIME(6) NULL,
  in_use VARCHAR(20) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_ci AS (IF(retired_at IS NULL, name, NULL)) STORED,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY charger_name (workshop_id, in_use),
  CONSTRAINT charger_of_workshop FOREIGN KEY (workshop_id) REFERENCES workshop (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- Somebody's own order of what waits for a charger; none for the one proposed.
ALTER TABLE workshop
  ADD COLUMN bank_order JSON NULL,
  ADD COLUMN bank_version INT NOT NULL DEFAULT 1;

-- What somebody last said of a moment of a job: that it is done, to call again later, or
-- who is to go.
CREATE TABLE said (
  workshop_id UUID NOT NULL,
  job_id UUID NOT NULL,
  kind VARCHAR(8) NOT NULL,
  at DATETIME(6) NOT NULL,
  done BOOLEAN NOT NULL,
  until DATETIME(6) NULL,
  person_id UUID NULL,
  by_id UUID NOT NULL,
  PRIMARY KEY (workshop_id, job_id, kind),
  CONSTRAINT said_of_job FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT said_by FOREIGN KEY (workshop_id, by_id) REFERENCES person (workshop_id, id),
  CONSTRAINT said_to FOREIGN KEY (workshop_id, person_id) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- +goose Down
DROP TABLE said;
ALTER TABLE workshop DROP COLUMN bank_version, DROP COLUMN bank_order;
DROP TABLE charger;
ALTER TABLE rest DROP COLUMN kind;
ALTER TABLE job DROP COLUMN promised_at;
