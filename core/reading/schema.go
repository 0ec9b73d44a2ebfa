package reading

import "grapnel/core/document"

// Schema gives the JSON Schema (2020-12) of grapnel.case/1.
func Schema() map[string]any { return document.Schema(CaseFormat, caseShape) }
