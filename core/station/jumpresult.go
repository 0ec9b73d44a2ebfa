package station

import "grapnel/core/document"

// JumpResult is whether it started on another battery.
const JumpResult = "jump_result"

func init() {
	register(Station{
		Code: JumpResult, Name: "Jump start", Hint: "whether it started on another battery", Minutes: 10,
		Fields: []Field{
			{Name: "started", Label: "It started", Shape: document.Flag(), Need: true, Said: "started: {value}"},
		},
	})
}
