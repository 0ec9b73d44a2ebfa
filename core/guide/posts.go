package guide

// Side is one post of the battery: which side of the circuit it is on and which
// lead goes there. Rules speak of live and earthed; the colour follows the post.
type Side struct {
	Post string `json:"post" enum:"+,−"`
	Lead string `json:"lead" enum:"red,black"`
	Role string `json:"role" enum:"live,earthed"`
}

// Posts gives the positive and the negative post of a vehicle earthed on the
// given side ("positive", or else negative).
func Posts(earth string) (plus, minus Side) {
	plus, minus = Side{"+", "red", "live"}, Side{"−", "black", "earthed"}
	if earth == "positive" {
		plus.Role, minus.Role = "earthed", "live"
	}
	return plus, minus
}
