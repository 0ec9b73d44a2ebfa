package api

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base32"
	"encoding/base64"
	"image/png"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
	"github.com/pquerna/otp/totp"

	"grapnel/core/document"
	"grapnel/core/words"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

// own checks the passphrase of the person signed in, for what a device left lying about
// must not do.
func (s *server) own(ctx context.Context, field, phrase string) error {
	p := here(ctx)
	try, err := s.slow(ctx, s.Now(), p.Person, p.Name, p.at.DeviceID)
	if err != nil {
		return err
	}
	switch ok, err := passphrase.Matches(ctx, p.Passphrase, phrase); {
	case err != nil:
		return huma.Error503ServiceUnavailable("Too many sign in at once. Try again in a moment.")
	case !ok:
		s.missed(ctx, p.Person, p.Name, true, "passphrase")
		return refuse("body", document.Problems{{Path: field, Message: "This is not your passphrase. It minds capitals."}})
	}
	s.right(try)
	return nil
}

// chosen checks a passphrase that is chosen for somebody.
func chosen(field, phrase string, p store.Person) error {
	if err := passphrase.Check(phrase, p.Name, p.Workshop); err != nil {
		return refuse("body", document.Problems{{Path: field, Message: words.Capital(err.Error()) + "."}})
	}
	return nil
}

type ownPassphrase struct {
	Old string `json:"old" maxLength:"250"`
	New string `json:"new" maxLength:"250"`
}

// setPassphrase changes one's own passphrase; the other sessions end.
func (s *server) setPassphrase(ctx context.Context, in *struct{ Body ownPassphrase }) (*sessionReply, error) {
	p := here(ctx)
	if err := s.own(ctx, "old", in.Body.Old); err != nil {
		return nil, err
	}
	if passphrase.Kept(in.Body.Old) == passphrase.Kept(in.Body.New) {
		return nil, refuse("body", document.Problems{{Path: "new", Message: "This is the one you have. Choose another."}})
	}
	if err := chosen("new", in.Body.New, p.Person); err != nil {
		return nil, err
	}
	if err := s.Store.SetPassphrase(ctx, p.Actor(), p.WorkshopID, p.ID, passphrase.Hash(in.Body.New), false, p.at); err != nil {
		return nil, answer(err)
	}
	p.MustChange = false
	return s.sessionReply(ctx, &p)
}

type ownPIN struct {
	Passphrase string `json:"passphrase" maxLength:"250"`
	PIN        string `json:"pin" maxLength:"8" doc:"4 to 8 digits; empty takes it away"`
}

func (s *server) setPIN(ctx context.Context, in *struct{ Body ownPIN }) (*sessionReply, error) {
	p := here(ctx)
	if err := s.own(ctx, "passphrase", in.Body.Passphrase); err != nil {
		return nil, err
	}
	hash := ""
	if in.Body.PIN != "" {
		if err := passphrase.CheckPIN(in.Body.PIN); err != nil {
			return nil, refuse("body", document.Problems{{Path: "pin", Message: words.Capital(err.Error()) + "."}})
		}
		hash = passphrase.Hash(in.Body.PIN)
	}
	if err := s.Store.SetPIN(ctx, p.Actor(), p.WorkshopID, p.ID, hash); err != nil {
		return nil, answer(err)
	}
	p.PIN = hash
	return s.sessionReply(ctx, &p)
}

type deviceView struct {
	ID      string    `json:"id" format:"uuid"`
	Name    string    `json:"name" doc:"what it is, as far as it tells"`
	ByPIN   bool      `json:"by_pin,omitempty"`
	BeganAt time.Time `json:"began_at"`
	SeenAt  time.Time `json:"seen_at" doc:"noted every ten minutes"`
	This    bool      `json:"this,omitempty" doc:"the one that asks"`
}

type devicesBody struct {
	Devices []deviceView `json:"devices" doc:"where one is signed in, the last seen first"`
}

func (s *server) getDevices(ctx context.Context, _ *nothing) (*output[devicesBody], error) {
	p := here(ctx)
	all, err := s.Store.Sessions(ctx, p.ID, s.Now())
	if err != nil {
		return nil, answer(err)
	}
	out := devicesBody{[]deviceView{}}
	for _, one := range all {
		out.Devices = append(out.Devices, deviceView{one.ID, one.Device, one.ByPIN, one.BeganAt, one.SeenAt, one.ID == p.at.ID})
	}
	return replied(out)
}

func (s *server) endDevice(ctx context.Context, in *OfSession) (*output[devicesBody], error) {
	p := here(ctx)
	if err := s.Store.EndOwn(ctx, p.Person, string(in.ID)); err != nil {
		return nil, answer(err)
	}
	return s.getDevices(ctx, nil)
}

// endOthers ends all of one's sessions but the one that asks.
func (s *server) endOthers(ctx context.Context, _ *nothing) (*output[devicesBody], error) {
	p := here(ctx)
	if err := s.Store.EndSessions(ctx, p.Actor(), p.WorkshopID, p.ID, p.at); err != nil {
		return nil, answer(err)
	}
	return s.getDevices(ctx, nil)
}

// OfSession is the input of an operation on one of one's own sessions.
type OfSession struct {
	ID ID `path:"id"`
}

// Resolve takes an id in capitals for the same id.
func (in *OfSession) Resolve(huma.Context) []error { return in.ID.lower() }

// The second factor is a time-based code (RFC 6238): six digits, half a minute each, one
// before and one after taken too, since clocks differ.
const (
	totpSeconds = 30
	totpSkew    = 1
	recoveries  = 10
)

var totpHow = totp.ValidateOpts{Period: totpSeconds, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}

// step gives the time step of a code, 0 when it is none of those that are good now.
func step(secret, code string, now time.Time) int64 {
	code = strings.Join(strings.Fields(code), "")
	for _, off := range []int64{0, -totpSkew, totpSkew} {
		at := now.Unix()/totpSeconds + off
		ok, err := hotp.ValidateCustom(
			code,
			uint64(at),
			secret,
			hotp.ValidateOpts{Digits: totpHow.Digits, Algorithm: totpHow.Algorithm},
		)
		if err == nil && ok {
			return at
		}
	}
	return 0
}

// secondFactor reports whether a code is that of the second factor now, or a recovery
// code that is left, and takes it: none is good twice.
func (s *server) secondFactor(ctx context.Context, p store.Person, code string) (bool, error) {
	if code == "" {
		return false, nil
	}
	if at := step(p.TOTP, code, s.Now()); at > 0 {
		return s.Store.UseTOTP(ctx, p.ID, at)
	}
	return s.Store.UseRecovery(ctx, p.ID, recovery(code))
}

// recovery is a recovery code as it is kept, however it was written.
func recovery(code string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "-", "").Replace(code))
}

type offerBody struct {
	Passphrase string `json:"passphrase" maxLength:"250"`
}

// secondOffer is a second factor to set up.
type secondOffer struct {
	Secret string `json:"secret" doc:"for typing in"`
	QR     string `json:"qr" doc:"the same as a picture, a data URI"`
}

func (s *server) offerSecond(ctx context.Context, in *struct{ Body offerBody }) (*output[secondOffer], error) {
	p := here(ctx)
	if err := s.own(ctx, "passphrase", in.Body.Passphrase); err != nil {
		return nil, err
	}
	if p.TOTP != "" {
		return nil, conflict(changed, "The second factor is on already. Turn it off first, to set up another.")
	}
	key, err := totp.Generate(
		totp.GenerateOpts{
			Issuer:      "Grapnel",
			AccountName: p.Name,
			Period:      totpHow.Period,
			Digits:      totpHow.Digits,
			Algorithm:   totpHow.Algorithm,
		},
	)
	if err != nil {
		return nil, answer(err)
	}
	picture, err := key.Image(240, 240)
	if err != nil {
		return nil, answer(err)
	}
	var qr bytes.Buffer
	if err := png.Encode(&qr, picture); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.OfferTOTP(ctx, p.ID, key.Secret()); err != nil {
		return nil, answer(err)
	}
	return replied(secondOffer{key.Secret(), "data:image/png;base64," + base64.StdEncoding.EncodeToString(qr.Bytes())})
}

type proveBody struct {
	Code string `json:"code" maxLength:"40" doc:"that the second factor shows now"`
}

type recoveryBody struct {
	Recovery []string `json:"recovery" doc:"codes for when the second factor is lost; each is good once, and none is shown again"`
}

func (s *server) proveSecond(ctx context.Context, in *struct{ Body proveBody }) (*output[recoveryBody], error) {
	p := here(ctx)
	offered, err := s.Store.OfferedTOTP(ctx, p.ID)
	if err != nil {
		return nil, answer(err)
	}
	if offered == "" {
		return nil, conflict(changed, "No second factor is being set up. Begin anew.")
	}
	at := step(offered, in.Body.Code, s.Now())
	if at == 0 {
		return nil, refuse(
			"body",
			document.Problems{
				{
					Path:    "code",
					Message: "The code does not match. Each is good for half a minute; check the clock of the device that shows it.",
				},
			},
		)
	}
	out := recoveryBody{}
	var kept []string
	for range recoveries {
		raw := make([]byte, 10) // 80 bits: nobody guesses one
		_, _ = rand.Read(raw)
		code := base32.StdEncoding.EncodeToString(raw)
		kept = append(kept, code)
		out.Recovery = append(out.Recovery, strings.Join([]string{code[:4], code[4:8], code[8:12], code[12:]}, "-"))
	}
	if err := s.Store.SetTOTP(ctx, p.Actor(), p.WorkshopID, p.ID, offered, at, kept); err != nil {
		return nil, answer(err)
	}
	return replied(out)
}

func (s *server) dropSecond(ctx context.Context, in *struct{ Body offerBody }) (*sessionReply, error) {
	p := here(ctx)
	if err := s.own(ctx, "passphrase", in.Body.Passphrase); err != nil {
		return nil, err
	}
	if err := s.Store.SetTOTP(ctx, p.Actor(), p.WorkshopID, p.ID, "", 0, nil); err != nil {
		return nil, answer(err)
	}
	p.TOTP = ""
	return s.sessionReply(ctx, &p)
}
