package api

import "time"

// today is the day it is at the shop, which is where the server stands.
func (s *server) today() string { return s.day(s.Now()) }

// day is the shop's day that a time falls on.
func (s *server) day(t time.Time) string { return t.In(s.Now().Location()).Format(time.DateOnly) }
