package api

import (
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

// ID is a client-made id: 36 characters, in the small letters it is kept in.
type ID string

// Schema describes an id: the bare form alone, since others would be read as the same
// id in one place and as another in the next.
func (ID) Schema(huma.Registry) *huma.Schema {
	s := &huma.Schema{Type: huma.TypeString, Format: "uuid", Pattern: `^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$`,
		PatternDescription: "an id such as 01890a5d-ac96-774b-bcce-b302099a8057"}
	s.PrecomputeMessages()
	return s
}

// UnmarshalText takes an id in capitals for the same id.
func (id *ID) UnmarshalText(text []byte) error {
	*id = ID(strings.ToLower(string(text)))
	return nil
}

// OfJob is the input of an operation on one job.
type OfJob struct {
	ID ID `path:"id"`
}

// Resolve takes an id in capitals for the same id.
func (in *OfJob) Resolve(huma.Context) []error { return in.ID.lower() }

func (id *ID) lower() []error {
	*id = ID(strings.ToLower(string(*id)))
	return nil
}
