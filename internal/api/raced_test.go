//go:build race

package api

func init() { raced = true }
