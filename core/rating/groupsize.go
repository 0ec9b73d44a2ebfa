package rating

import (
	"sort"
	"strings"
)

// GroupSize is the outline of a standard battery: what fits which tray.
// Dimensions are the most the standard allows, in millimetres.
type GroupSize struct {
	Name     string
	Also     string // the European size of the same case, where there is one
	Volts    float64
	Length   float64 // mm
	Width    float64 // mm
	Height   float64 // mm, over the terminals
	Terminal Terminal
	Positive Side
}

// Terminal is how cables are fastened.
type Terminal string

// Side is where the positive terminal is, looking at the long side that the
// terminals stand nearest to.
type Side string

// Terminals and sides.
const (
	TopPost  Terminal = "top"
	SideBolt Terminal = "side"
	Stud     Terminal = "stud"

	LeftSide  Side = "left"
	RightSide Side = "right"
)

// groupSizes are common group sizes. Source: BCI group size tables, EN 50342-2 and JIS D
// 5301 (L and R say where the − stands of a box), from memory; dimensions ±4 mm. The
// tray and the maker's list decide.
var groupSizes = []GroupSize{
	{"1", "", 6, 232, 181, 238, TopPost, LeftSide},
	{"2", "", 6, 264, 181, 238, TopPost, LeftSide},
	{"U1", "", 12, 197, 132, 186, Stud, LeftSide},
	{"U1R", "", 12, 197, 132, 186, Stud, RightSide},
	{"22NF", "", 12, 240, 140, 227, TopPost, LeftSide},
	{"24", "", 12, 260, 173, 225, TopPost, LeftSide},
	{"24F", "", 12, 273, 173, 229, TopPost, RightSide},
	{"25", "", 12, 230, 175, 225, TopPost, LeftSide},
	{"26", "", 12, 208, 173, 197, TopPost, LeftSide},
	{"26R", "", 12, 208, 173, 197, TopPost, RightSide},
	{"27", "", 12, 306, 173, 225, TopPost, LeftSide},
	{"27F", "", 12, 318, 173, 227, TopPost, RightSide},
	{"31", "", 12, 330, 173, 240, Stud, LeftSide},
	{"34", "", 12, 260, 173, 200, TopPost, LeftSide},
	{"34R", "", 12, 260, 173, 200, TopPost, RightSide},
	{"35", "", 12, 230, 175, 225, TopPost, RightSide},
	{"47", "L2", 12, 242, 175, 190, TopPost, RightSide},
	{"48", "L3", 12, 278, 175, 190, TopPost, RightSide},
	{"49", "L5", 12, 353, 175, 190, TopPost, RightSide},
	{"51", "", 12, 238, 129, 223, TopPost, LeftSide},
	{"51R", "", 12, 238, 129, 223, TopPost, RightSide},
	{"58", "", 12, 255, 183, 177, TopPost, LeftSide},
	{"58R", "", 12, 255, 183, 177, TopPost, RightSide},
	{"59", "", 12, 255, 193, 196, TopPost, RightSide},
	{"65", "", 12, 306, 190, 192, TopPost, LeftSide},
	{"75", "", 12, 230, 179, 186, SideBolt, LeftSide},
	{"78", "", 12, 260, 179, 186, SideBolt, LeftSide},
	{"86", "", 12, 230, 173, 203, TopPost, LeftSide},
	{"90", "LB2", 12, 242, 175, 175, TopPost, RightSide},
	{"91", "LB3", 12, 278, 175, 175, TopPost, RightSide},
	{"92", "LB4", 12, 315, 175, 175, TopPost, RightSide},
	{"93", "LB5", 12, 353, 175, 175, TopPost, RightSide},
	{"94R", "L4", 12, 315, 175, 190, TopPost, RightSide},
	{"95R", "L6", 12, 394, 175, 190, TopPost, RightSide},
	{"96R", "", 12, 242, 173, 175, TopPost, RightSide},
	{"L0", "", 12, 175, 175, 190, TopPost, RightSide},
	{"L1", "", 12, 207, 175, 190, TopPost, RightSide},
	{"LB1", "", 12, 207, 175, 175, TopPost, RightSide},
	{"B19L", "", 12, 187, 127, 227, TopPost, RightSide},
	{"B19R", "", 12, 187, 127, 227, TopPost, LeftSide},
	{"B24L", "", 12, 238, 129, 227, TopPost, RightSide},
	{"B24R", "", 12, 238, 129, 227, TopPost, LeftSide},
	{"D23L", "", 12, 232, 173, 225, TopPost, RightSide},
	{"D23R", "", 12, 232, 173, 225, TopPost, LeftSide},
	{"D26L", "", 12, 260, 173, 225, TopPost, RightSide},
	{"D26R", "", 12, 260, 173, 225, TopPost, LeftSide},
	{"D31L", "", 12, 306, 173, 225, TopPost, RightSide},
	{"D31R", "", 12, 306, 173, 225, TopPost, LeftSide},
	{"121R", "", 12, 208, 177, 215, TopPost, RightSide},
	{"124R", "", 12, 263, 177, 215, TopPost, RightSide},
}

// FindGroupSize gives a group size by its name or its European one, whatever
// the case it is written in.
func FindGroupSize(name string) (GroupSize, bool) {
	name = strings.ToUpper(strings.TrimSpace(name))
	for _, g := range groupSizes {
		if g.Name == name || g.Also == name && name != "" {
			return g, true
		}
	}
	return GroupSize{}, false
}

// Fitting gives the group sizes that go into a tray of the given inside
// dimensions in mm, biggest first.
func Fitting(volts, length, width, height float64) []GroupSize {
	var out []GroupSize
	for _, g := range groupSizes {
		if g.Volts == volts && g.Length <= length && g.Width <= width && g.Height <= height {
			out = append(out, g)
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].room() > out[j].room() })
	return out
}

func (g GroupSize) room() float64 { return g.Length * g.Width * g.Height }
