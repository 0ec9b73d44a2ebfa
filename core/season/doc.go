// Package season is what becomes of a battery that stands: its charge and its freezing
// point day by day over a season, as a band, for every way of keeping it; which way to
// take, what has to be done by when, and what happens otherwise.
//
//	request.go     grapnel.season_request/1
//	weather.go     the days of a season: how warm, and how cold the night
//	standing.go    one battery standing: what it loses and gets in a day
//	looks.go       what it loses, learnt from the looks at it
//	planner.go     a request made ready: its battery, its days, its rules
//	ways.go        the ways of keeping it, each run through the season
//	judged.go      what becomes of it in a way, and the ways in order
//	cost.go        what a way takes: minutes of work, and what can go wrong
//	drive.go       how long a drive has to be
//	sun.go         what a panel gives in the darkest month
//	maintainer.go  which maintainer keeps it, and which would ruin it
//	needs.go       what has to be done, by when
//	myths.go       what is often said and is not so
//	plan.go        grapnel.season_plan/1: what is told of all that
//	stored.go      a battery put away, as the shop keeps it
//	follow.go      its season followed, look by look
//	round.go       a lot of vehicles: who is seen to this week, in which order
package season
