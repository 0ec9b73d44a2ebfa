package api

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/document"
	"grapnel/internal/store"
)

// answer turns an error of core or store into what the caller is told. What the
// caller cannot mend is logged and said without its inside.
func answer(err error) error {
	var problems document.Problems
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
		return conflict(
			taken,
			"This was saved before, with other content. What was saved first is kept; save this under a new id.",
		)
	case errors.Is(err, store.ErrChanged):
		return conflict(
			changed,
			"Somebody changed this in the meantime. Look at what is there now, then save again.",
		)
	case errors.Is(err, store.ErrClosed):
		return conflict(closed, "This job is closed: it takes corrections only, by a lead. Open it again to go on with it.")
	case errors.Is(err, store.ErrMany):
		return conflict(
			many,
			fmt.Sprintf("This job holds %d readings, as many as one can. Open another job for what comes.", store.MostReadings),
		)
	case errors.Is(err, store.ErrGuideFull):
		return conflict(many, "More was ticked and unticked on this job than one holds. Open another job for what comes.")
	case errors.Is(err, store.ErrKnownBattery):
		return conflict(knownTag, sentence(err)+". Give it another tag, or change the one that is there.")
	case errors.Is(err, store.ErrShelfFull):
		return conflict(many, sentence(err)+". Take off what is sold or scrapped.")
	case errors.Is(err, store.ErrStored):
		return conflict(knownTag, sentence(err)+". Look it up under Season, or wake it first.")
	case errors.Is(err, store.ErrWoken):
		return conflict(closed, "It has been woken and stands no longer. Put it away again to go on.")
	case errors.Is(err, store.ErrWokenLater):
		return conflict(changed, sentence(err)+": it stands under a new entry.")
	case errors.Is(err, store.ErrStoreFull):
		return conflict(many, sentence(err)+". Wake what is back on the road.")
	case errors.Is(err, store.ErrPapersFull):
		return conflict(many, sentence(err)+". Open another job for what comes.")
	case errors.Is(err, store.ErrLooksFull):
		return conflict(many, sentence(err)+". Wake it, and put it away anew.")
	case errors.Is(err, store.ErrLabel):
		return conflict(knownTag, "A battery of this tag is known here, with another label. Is it the same battery?")
	case errors.Is(err, store.ErrNamed):
		return conflict(sameName, "There is a charger of this name. Give it another.")
	case errors.Is(err, store.ErrChargers):
		return conflict(many, sentence(err)+". Retire one that is in use no longer.")
	case errors.Is(err, store.ErrLastLead):
		return conflict(lastLead, "This is the only lead. Make somebody else a lead first.")
	case errors.Is(err, store.ErrNoLonger):
		return huma.Error403Forbidden("Your account was changed while this was under way, and nothing was saved. Sign in again.")
	case errors.Is(err, context.Canceled):
		return huma.NewError(gone, "The request was given up.")
	}
	slog.Error("request failed", "error", err)
	switch {
	case errors.Is(err, store.ErrUnsure):
		return typed(
			http.StatusServiceUnavailable,
			unsure,
			"The database broke off while this was being saved: it may be saved, or not. Try again: what is there is found, and nothing is doubled.",
		)
	case errors.Is(err, store.ErrUnsaved):
		return huma.Error503ServiceUnavailable(nothingSaved)
	}
	return huma.Error503ServiceUnavailable(noAnswer)
}

// gone is the status of a request whose asker left before it was answered: no failure
// of ours, and counted as none.
const gone = 499

// What is said where nothing was to be saved, and where nothing was.
const (
	noAnswer     = "The database did not answer. Try again in a moment."
	nothingSaved = "The database did not answer. Nothing was saved; try again in a moment."
)

// Problems that a program can tell apart, by their type.
const (
	unsure   = "urn:grapnel:unsure"    // nobody knows whether it was saved; the same id finds out
	unshown  = "urn:grapnel:unshown"   // it was saved; what it led to could not be shown
	closed   = "urn:grapnel:closed"    // the job is closed
	many     = "urn:grapnel:many"      // the job holds as many readings as it can
	lastLead = "urn:grapnel:last-lead" // the workshop would be left without a lead

	mustChange  = "urn:grapnel:must-change"   // a temporary passphrase has to be changed first
	byPIN       = "urn:grapnel:by-pin"        // coming in by PIN is not enough for this
	pinOver     = "urn:grapnel:pin-over"      // the PIN is no longer good on this device
	askCode     = "urn:grapnel:second-factor" // the code of the second factor is asked for
	taken       = "urn:grapnel:taken"         // the id is of something saved before, with other content
	changed     = "urn:grapnel:changed"       // somebody changed it in the meantime
	notCharging = "urn:grapnel:not-charging"  // it hangs on no charger
	knownTag    = "urn:grapnel:known-tag"     // a battery of that tag is known here
	sameName    = "urn:grapnel:same-name"     // there is one of that name
)

func conflict(kind, detail string) error { return typed(http.StatusConflict, kind, detail) }

func typed(status int, kind, detail string) error {
	return &huma.ErrorModel{Type: kind, Title: http.StatusText(status), Status: status, Detail: detail}
}

// plainly puts what the HTTP layer finds wrong, before core has seen it, into
// words that say what, where and what to do. An error carries excerpts of what was
// sent, and only so many stand in an answer.
func plainly(status int, detail string, errs ...error) huma.StatusError {
	told := make([]error, 0, min(len(errs), document.Most+1))
	for _, err := range errs {
		if len(told) == document.Most {
			told = append(told, &huma.ErrorDetail{Location: "body", Message: "and more. Mend these first, then try again"})
			break
		}
		var d *huma.ErrorDetail
		if !errors.As(err, &d) {
			told = append(told, err)
			continue
		}
		one := inWords(*d)
		told = append(told, &one)
		if detail == "validation failed" {
			detail = "Not saved. " + strings.TrimPrefix(strings.TrimPrefix(one.Location, "body"), ".") + ": " + one.Message
			if one.Location == "body" {
				detail = "Not saved: this is not a document that can be read. " + one.Message
			}
		}
	}
	if status == http.StatusRequestEntityTooLarge {
		detail = "At most 1 MB is taken. A case file is far smaller: check that it is the right file."
	}
	return bareError(status, detail, told...)
}

// inWords is a fault the HTTP layer found, in words. What was sent stands in them as an
// excerpt alone: a document would only be sent back whole, once for each of its faults.
func inWords(d huma.ErrorDetail) huma.ErrorDetail {
	if want, ok := strings.CutPrefix(d.Message, "expected "); ok && kinds[want] != "" {
		d.Message = fmt.Sprintf("%s is not %s. Check it and send it again", document.Quote(d.Value), kinds[want])
	}
	if d.Location == "body" {
		d.Message = strings.Replace(d.Message, "json: cannot unmarshal ", "broken JSON: cannot take ", 1)
	}
	switch d.Value.(type) {
	case bool, float64, nil:
	case string:
		if d.Location == "body" {
			d.Value = nil
			break
		}
		d.Value = document.Excerpt(d.Value.(string))
	default:
		d.Value = nil
	}
	d.Location, d.Message = ending(d.Location), ending(d.Message)
	return d
}

// mostWords is how long a place or a message may be. Messages that list what is allowed
// are longer than an excerpt.
const mostWords = 600

func ending(text string) string {
	if len(text) <= mostWords {
		return text
	}
	return strings.ToValidUTF8(text[:mostWords], "") + "…"
}

var (
	bareError = huma.NewError
	kinds     = map[string]string{
		"number":  "a number",
		"integer": "a whole number",
		"string":  "text",
		"boolean": "true or false",
		"array":   "a list",
		"object":  "an object",
	}
)

// refuse gives a 422 that names each field below root and says what is wrong
// with it.
func refuse(root string, problems document.Problems) error {
	problems = problems.Few()
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
