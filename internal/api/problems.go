package api

import (
	"context"
	"errors"
	"log/slog"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/reading"
	"grapnel/internal/store"
)

// answer turns an error of core or store into what the caller is told. What the
// caller cannot mend is logged and said without its inside.
func answer(err error) error {
	var problems reading.Problems
	var already huma.StatusError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &already):
		return err
	case errors.As(err, &problems):
		return refuse("body", problems)
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound(sentence(err) + ". It may belong to another workshop, or the address is wrong.")
	case errors.Is(err, store.ErrTaken):
		return huma.Error409Conflict("This id is already used for something else. Load the page again and save once more.")
	case errors.Is(err, store.ErrChanged):
		return huma.Error409Conflict("Somebody changed this in the meantime. Look at what is there now, then save again.")
	case errors.Is(err, context.Canceled):
		return huma.NewError(499, "The request was given up.")
	}
	slog.Error("request failed", "error", err)
	return huma.Error503ServiceUnavailable("The database did not answer. Nothing was saved; try again in a moment.")
}

// refuse gives a 422 that names each field below root and says what is wrong
// with it.
func refuse(root string, problems reading.Problems) error {
	details := make([]error, len(problems))
	for i, p := range problems {
		location := root
		if p.Path != "" {
			location += "." + p.Path
		}
		details[i] = &huma.ErrorDetail{Location: location, Message: p.Message}
	}
	detail := "Not saved. " + problems[0].Message
	if problems[0].Path != "" {
		detail = "Not saved. " + problems[0].Path + ": " + problems[0].Message
	}
	return huma.Error422UnprocessableEntity(detail, details...)
}

func sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + text[1:]
}
