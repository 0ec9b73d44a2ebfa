// Package charge knows chargers and what a battery does on one.
//
//	chargers: kinds, settings, limits of each build     charger.go, limits.go
//	one charge, from hanging it on to full              run.go
//	the forecast with its band, the rule of thumb       forecast.go, thumb.go
//	what to mind, and what is refused                   warnings.go, rates.go
//	which clamp first and last                          order.go
//	the open documents                                  plan.go
//	what checks say of a battery, and of its charger    check.go, estimate.go, follow.go
//	what hangs where, and when                          schedule.go
//
// It is pure: time is an argument. All of it rests on the battery model.
package charge
