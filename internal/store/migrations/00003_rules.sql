-- +goose Up

-- Every set of house rules a workshop has had, with who chose it and when. Only
-- ever added to.
CREATE TABLE rules_change (
  workshop_id UUID NOT NULL,
  version INT NOT NULL,
  was JSON NOT NULL,
  became JSON NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  changed_by UUID NOT NULL,
  PRIMARY KEY (workshop_id, version),
  CONSTRAINT rules_of FOREIGN KEY (workshop_id) REFERENCES workshop (id),
  CONSTRAINT rules_by FOREIGN KEY (workshop_id, changed_by) REFERENCES person (workshop_id, id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4;

-- +goose Down
DROP TABLE rules_change;
