-- +goose Up

CREATE TABLE workshop (
  id UUID NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  tag_prefix VARCHAR(8) NOT NULL,
  rules JSON NOT NULL,
  rules_version INT NOT NULL DEFAULT 1,
  created_at DATETIME(6) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE person (
  id UUID NOT NULL PRIMARY KEY,
  workshop_id UUID NOT NULL,
  name VARCHAR(80) NOT NULL,
  role VARCHAR(16) NOT NULL CHECK (role IN ('technician', 'lead')),
  passphrase VARCHAR(200) NOT NULL,
  temperature VARCHAR(1) NOT NULL DEFAULT 'C' CHECK (temperature IN ('C', 'F')),
  theme VARCHAR(8) NOT NULL DEFAULT 'system' CHECK (theme IN ('system', 'light', 'dark')),
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY person_name (name),
  UNIQUE KEY person_workshop (workshop_id, id),
  CONSTRAINT person_of_workshop FOREIGN KEY (workshop_id) REFERENCES workshop (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE sessions (
  token CHAR(43) NOT NULL PRIMARY KEY,
  data BLOB NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  KEY sessions_expiry (expiry)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- A battery and a vehicle are known by tag and name; their documents are what
-- was last read from the label. A job keeps its own copy, so that a later
-- correction never changes what an old verdict rested on.
CREATE TABLE battery (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  tag VARCHAR(40) NOT NULL,
  label JSON NOT NULL,
  updated_at DATETIME(6) NOT NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY battery_tag (workshop_id, tag),
  CONSTRAINT battery_of_workshop FOREIGN KEY (workshop_id) REFERENCES workshop (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE job (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  battery_id UUID NOT NULL,
  vehicle JSON NOT NULL,
  battery JSON NOT NULL,
  vehicle_name VARCHAR(80) AS (JSON_VALUE(vehicle, '$.name')) STORED,
  tag VARCHAR(40) AS (JSON_VALUE(battery, '$.tag')) STORED,
  customer VARCHAR(120) NOT NULL,
  note VARCHAR(500) NOT NULL,
  complaint JSON NOT NULL,
  ambient_c DECIMAL(5, 2) NULL,
  battery_c DECIMAL(5, 2) NULL,
  rules JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  places INT NOT NULL DEFAULT 0, -- readings in order, corrections not counted
  fingerprint BINARY(32) NOT NULL,
  opened_at DATETIME(6) NOT NULL,
  opened_by UUID NOT NULL,
  closed_at DATETIME(6) NULL,
  closed_by UUID NULL,
  PRIMARY KEY (workshop_id, id),
  KEY job_open (workshop_id, closed_at, opened_at),
  KEY job_battery (workshop_id, battery_id),
  CONSTRAINT job_of_battery FOREIGN KEY (workshop_id, battery_id) REFERENCES battery (workshop_id, id),
  CONSTRAINT job_opened_by FOREIGN KEY (workshop_id, opened_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- Readings are only ever added. The body is the reading as it was given, figures
-- to the digit; the columns are read out of it for searching.
CREATE TABLE reading (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  place INT NOT NULL,
  kind VARCHAR(24) NOT NULL,
  body JSON NOT NULL,
  volts DECIMAL(7, 3) AS (CAST(JSON_VALUE(body, '$.volts') AS DECIMAL(7, 3))) STORED,
  volts_end DECIMAL(7, 3) AS (CAST(JSON_VALUE(body, '$.volts_end') AS DECIMAL(7, 3))) STORED,
  taken_at DATETIME(6) NOT NULL,
  taken_by UUID NOT NULL,
  saved_at DATETIME(6) NOT NULL,
  replaces_id UUID NULL,
  fingerprint BINARY(32) NOT NULL,
  PRIMARY KEY (workshop_id, id),
  UNIQUE KEY reading_replaced_once (workshop_id, replaces_id),
  KEY reading_job (workshop_id, job_id, place),
  CONSTRAINT reading_of_job FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT reading_by FOREIGN KEY (workshop_id, taken_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE rest (
  workshop_id UUID NOT NULL,
  id UUID NOT NULL,
  job_id UUID NOT NULL,
  starts_at DATETIME(6) NOT NULL,
  ends_at DATETIME(6) NOT NULL,
  begun_by UUID NOT NULL,
  ended_at DATETIME(6) NULL,
  PRIMARY KEY (workshop_id, id),
  KEY rest_job (workshop_id, job_id),
  KEY rest_running (workshop_id, ended_at, ends_at),
  CONSTRAINT rest_of_job FOREIGN KEY (workshop_id, job_id) REFERENCES job (workshop_id, id),
  CONSTRAINT rest_by FOREIGN KEY (workshop_id, begun_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- +goose Down
DROP TABLE rest;
DROP TABLE reading;
DROP TABLE job;
DROP TABLE battery;
DROP TABLE sessions;
DROP TABLE person;
DROP TABLE workshop;
