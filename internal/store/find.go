package store

import (
	"context"

	"grapnel/core/words"
)

// findable is what a job is found by: its tag, vehicle and customer, folded.
func findable(j Job) string {
	text := words.Folded(j.Battery.Tag + " " + j.Vehicle.Name + " " + j.Customer)
	if all := []rune(text); len(all) > mostFind {
		return string(all[:mostFind])
	}
	return text
}

// mostFind is how much of it is kept; tag, vehicle and customer have 240 letters, and
// folding may take one apart.
const mostFind = 255

// fillFind makes old jobs findable.
func (s *Store) fillFind(ctx context.Context) error {
	for {
		rows, err := s.db.QueryContext(ctx, `SELECT workshop_id, id, vehicle, battery, customer FROM job WHERE find IS NULL LIMIT 500`)
		if err != nil {
			return err
		}
		type row struct{ workshop, id, find string }
		var missing []row
		err = each(rows, func() error {
			var r row
			var j Job
			err := rows.Scan(&r.workshop, &r.id, asDoc(&j.Vehicle), asDoc(&j.Battery), &j.Customer)
			r.find = findable(j)
			missing = append(missing, r)
			return err
		})
		if err != nil || len(missing) == 0 {
			return err
		}
		for _, r := range missing {
			if _, err := s.db.ExecContext(ctx, `UPDATE job SET find = ? WHERE workshop_id = ? AND id = ?`, r.find, r.workshop, r.id); err != nil {
				return err
			}
		}
	}
}
