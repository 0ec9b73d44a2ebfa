package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"net"
	"reflect"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/core/rules"
)

// What the database asks to be tried again is, from the start and a few times;
// what is wrong for good is not. The numbers are MariaDB's.
func TestTriesAgainWhatPasses(t *testing.T) {
	s := newShop(t)
	for name, c := range map[string]struct {
		err   error
		again bool
	}{
		"deadlock":          {&mysql.MySQLError{Number: 1213}, true},
		"lock wait":         {&mysql.MySQLError{Number: 1205}, true},
		"node not ready":    {&mysql.MySQLError{Number: 1047}, true},
		"query killed":      {&mysql.MySQLError{Number: 1317}, true},
		"shutting down":     {&mysql.MySQLError{Number: 1053}, true},
		"connection killed": {&mysql.MySQLError{Number: 1927}, true},
		"same create twice": {&mysql.MySQLError{Number: 1062, Message: "Duplicate entry 'x' for key 'PRIMARY'"}, true},
		"connection lost":   {fmt.Errorf("read: %w", mysql.ErrInvalidConn), true},
		"bad connection":    {driver.ErrBadConn, true},
		"network":           {&net.OpError{Op: "dial", Err: errors.New("refused")}, true},
		"another key": {&mysql.MySQLError{Number: 1062,
			Message: "Duplicate entry 'x' for key 'reading_replaced_once'"}, false},
		"syntax":            {&mysql.MySQLError{Number: 1064}, false},
		"what we say":       {ErrChanged, false},
		"nothing was found": {sql.ErrNoRows, false},
	} {
		tries := 0
		err := s.tx(s.ctx, func(*sql.Tx) error {
			if tries++; tries < 3 {
				return c.err
			}
			return nil
		})
		if c.again && (err != nil || tries != 3) || !c.again && (!errors.Is(err, c.err) || tries != 1) {
			t.Errorf("%s: %d tries, %v", name, tries, err)
		}
	}
	// It gives up in the end, and says what was wrong; a caller who left is obeyed.
	tries := 0
	err := s.tx(s.ctx, func(*sql.Tx) error { tries++; return &mysql.MySQLError{Number: 1213} })
	var my *mysql.MySQLError
	if tries != attempts || !errors.As(err, &my) {
		t.Errorf("after %d tries: %v", tries, err)
	}
	ctx, cancel := context.WithCancel(s.ctx)
	tries = 0
	err = s.tx(ctx, func(*sql.Tx) error { tries++; cancel(); return &mysql.MySQLError{Number: 1213} })
	if tries != 1 || !errors.Is(err, context.Canceled) {
		t.Errorf("given up after %d tries: %v", tries, err)
	}
}

// A real deadlock, made by two transactions that take two rows in turn, ends with
// both changes made.
func TestDeadlock(t *testing.T) {
	s := newShop(t)
	a, b := s.opened(t, "K-0001"), s.opened(t, "K-0002")
	// Each waits, the first time, until the other holds its row.
	here := [2]chan struct{}{make(chan struct{}), make(chan struct{})}
	change := func(mine int, first, second string) error {
		again := false
		return s.tx(s.ctx, func(tx *sql.Tx) error {
			if _, err := tx.ExecContext(s.ctx, `UPDATE job SET places = places + 1 WHERE workshop_id = ? AND id = ?`,
				s.ws.ID, first); err != nil {
				return err
			}
			if !again {
				again = true
				close(here[mine])
				<-here[1-mine]
			}
			_, err := tx.ExecContext(s.ctx, `UPDATE job SET places = places + 1 WHERE workshop_id = ? AND id = ?`,
				s.ws.ID, second)
			return err
		})
	}
	other := make(chan error, 1)
	go func() { other <- change(1, b.ID, a.ID) }()
	must(t, change(0, a.ID, b.ID))
	must(t, <-other)
	for _, id := range []string{a.ID, b.ID} {
		var places int
		must(t, s.db.QueryRow(`SELECT places FROM job WHERE workshop_id = ? AND id = ?`, s.ws.ID, id).Scan(&places))
		if places != 2 {
			t.Errorf("%d of 2 changes", places)
		}
	}
}

// A job is closed once: the second time changes neither when nor by whom.
func TestSecondCloseChangesNothing(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	second := Person{ID: id(), WorkshopID: s.ws.ID, Name: "Second", Role: Technician, Passphrase: "x"}
	must(t, s.AddPerson(s.ctx, Actor{}, second))
	at := s.now().Add(time.Minute)
	must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID, Closing{At: at}))
	must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: second.ID}, j.ID, Closing{At: at.Add(time.Hour)}))
	got, err := s.Job(s.ctx, s.ws.ID, j.ID)
	must(t, err)
	if got.ClosedAt == nil || !got.ClosedAt.Equal(at) || got.ClosedBy != s.person.Name {
		t.Errorf("closed %v by %s", got.ClosedAt, got.ClosedBy)
	}
	must(t, s.ReopenJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID))
	must(t, s.CloseJob(s.ctx, s.ws.ID, Actor{ID: second.ID}, j.ID, Closing{At: at.Add(2 * time.Hour)}))
	if got, err = s.Job(s.ctx, s.ws.ID, j.ID); err != nil || got.ClosedBy != "Second" {
		t.Errorf("opened again and closed: by %s, %v", got.ClosedBy, err)
	}
}

// Rules stored before a rule existed give it its default, of a workshop and of a
// job; what is stored stays as it is.
func TestStoredRulesWithoutAYoungerRule(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	for _, table := range []string{"workshop", "job"} {
		_, err := s.db.Exec(`UPDATE ` + table + ` SET rules = '{"load_test_min_soc_pct": 65, "load_test_limit": "fixed"}'`)
		must(t, err)
	}
	want := rules.Default()
	want.LoadTestMinSOC, want.LoadTestLimit = 65, rules.LimitFixed
	ws, err := s.Workshop(s.ctx, s.ws.ID)
	must(t, err)
	got, err := s.Job(s.ctx, s.ws.ID, j.ID)
	must(t, err)
	if !reflect.DeepEqual(ws.Rules, want) || !reflect.DeepEqual(got.Rules, want) {
		t.Errorf("workshop %+v, job %+v, want %+v", ws.Rules, got.Rules, want)
	}
	var kept string
	must(t, s.db.QueryRow(`SELECT rules FROM workshop WHERE id = ?`, s.ws.ID).Scan(&kept))
	if kept != `{"load_test_min_soc_pct": 65, "load_test_limit": "fixed"}` {
		t.Errorf("stored: %s", kept)
	}
}

// Only a reading that a rest was for ends it.
func TestRestIsEndedByWhatItWasFor(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	must(t, s.AddRest(s.ctx, s.ws.ID, s.rest(j.ID)))
	for _, c := range []struct {
		ends bool
		left int
	}{{false, 1}, {true, 0}} {
		r := s.volts(j.ID, 12.5)
		r.EndsRest = c.ends
		must(t, s.AddReading(s.ctx, s.ws.ID, r))
		if rests, err := s.RunningRests(s.ctx, s.ws.ID); err != nil || len(rests) != c.left {
			t.Errorf("ends it %t: %d rests run, %v", c.ends, len(rests), err)
		}
		if !c.ends {
			continue
		}
		// A correction of it is what a rest was for as well.
		must(t, s.AddRest(s.ctx, s.ws.ID, s.rest(j.ID)))
		fix := s.volts(j.ID, 12.6)
		fix.Replaces = r.ID
		must(t, s.AddReading(s.ctx, s.ws.ID, fix))
		if rests, err := s.RunningRests(s.ctx, s.ws.ID); err != nil || len(rests) != 0 {
			t.Errorf("after a correction %d rests run, %v", len(rests), err)
		}
	}
}
