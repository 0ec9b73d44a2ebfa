package checks

import (
	"os"
	"testing"

	"grapnel/internal/effort"
)

func TestMain(m *testing.M) {
	effort.LeaveOut()
	os.Exit(m.Run())
}
