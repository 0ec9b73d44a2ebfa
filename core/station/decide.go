package station

// Decide is where the verdict stands, and what to do about it.
const Decide = "decide"

func init() {
	register(Station{
		Code: Decide, Place: 120, Name: "Decide", Hint: "what is true, and what to do", Minutes: 5,
	})
}
