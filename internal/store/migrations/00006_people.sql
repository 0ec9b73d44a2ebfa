-- +goose Up

ALTER TABLE person
  ADD COLUMN disabled_at DATETIME(6) NULL,
  ADD COLUMN must_change BOOLEAN NOT NULL DEFAULT FALSE, -- the passphrase is a temporary one
  ADD COLUMN pin VARCHAR(200) NULL,
  ADD COLUMN totp VARCHAR(64) NULL,          -- secret of the second factor, once it is on
  ADD COLUMN totp_offered VARCHAR(64) NULL,  -- shown, and not yet proved
  ADD COLUMN totp_step BIGINT NOT NULL DEFAULT 0; -- the last one used: no code counts twice

-- Codes for whoever has lost the second factor; each is good once.
CREATE TABLE recovery_code (
  person_id UUID NOT NULL,
  hash BINARY(32) NOT NULL,
  PRIMARY KEY (person_id, hash),
  CONSTRAINT recovery_of FOREIGN KEY (person_id) REFERENCES person (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- A browser somebody has signed in with, known by a secret of its own, and who did.
CREATE TABLE device (
  token BINARY(32) NOT NULL PRIMARY KEY, -- SHA-256 of the secret
  id UUID NOT NULL,
  name VARCHAR(80) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY device_id (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

CREATE TABLE device_person (
  device_id UUID NOT NULL,
  person_id UUID NOT NULL,
  signed_in_at DATETIME(6) NOT NULL, -- with the passphrase
  pin_misses INT NOT NULL DEFAULT 0,
  PRIMARY KEY (device_id, person_id),
  KEY device_person_person (person_id),
  CONSTRAINT device_person_device FOREIGN KEY (device_id) REFERENCES device (id) ON DELETE CASCADE,
  CONSTRAINT device_person_person FOREIGN KEY (person_id) REFERENCES person (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- Only made and ended: a request under way can bring none back.
DROP TABLE sessions;
CREATE TABLE session (
  token BINARY(32) NOT NULL PRIMARY KEY, -- SHA-256 of the secret
  id UUID NOT NULL,
  person_id UUID NOT NULL,
  device_id UUID NOT NULL,
  by_pin BOOLEAN NOT NULL,
  began_at DATETIME(6) NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  UNIQUE KEY session_id (id),
  KEY session_person (person_id),
  KEY session_seen (seen_at),
  CONSTRAINT session_of FOREIGN KEY (person_id) REFERENCES person (id),
  CONSTRAINT session_on FOREIGN KEY (device_id) REFERENCES device (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- A row to write, for whoever asks whether writing goes.
CREATE TABLE probe (
  id TINYINT NOT NULL PRIMARY KEY,
  at DATETIME(6) NOT NULL
) ENGINE=InnoDB;
INSERT INTO probe (id, at) VALUES (1, UTC_TIMESTAMP(6));

-- +goose Down
DROP TABLE probe;
DROP TABLE session;
DROP TABLE device_person;
DROP TABLE device;
DROP TABLE recovery_code;
ALTER TABLE person
  DROP COLUMN totp_step,
  DROP COLUMN totp_offered,
  DROP COLUMN totp,
  DROP COLUMN pin,
  DROP COLUMN must_change,
  DROP COLUMN disabled_at;
CREATE TABLE sessions (
  token CHAR(43) NOT NULL PRIMARY KEY,
  data BLOB NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  KEY sessions_expiry (expiry)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;
