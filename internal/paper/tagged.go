package paper

import (
	"bytes"
	"fmt"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// What a piece of a page is (ISO 32000-1, 14.8.4).
const (
	isTitle   = "H1"
	isHeading = "H2"
	isText    = "P"
	isFigure  = "Figure"
)

// tag is one piece of the document in the order it is read.
type tag struct {
	is   string
	page int
	id   int    // on its page
	alt  string // what a figure shows
}

// tags is what a document is made of.
type tags struct {
	all    []tag
	counts map[int]int
}

// as draws something as one piece of the document.
func (s *sheet) as(is, alt string, draw func()) {
	page := s.PageNo()
	if s.tags.counts == nil {
		s.tags.counts = map[int]int{}
	}
	id := s.tags.counts[page]
	s.tags.counts[page]++
	s.tags.all = append(s.tags.all, tag{is, page, id, alt})
	s.RawWriteStr(fmt.Sprintf("/%s <</MCID %d>> BDC", is, id))
	s.marked = true
	draw()
	s.marked = false
	s.RawWriteStr("EMC")
}

// artifact draws something that says nothing.
func (s *sheet) artifact(draw func()) {
	if s.marked { // it belongs to what it stands in
		draw()
		return
	}
	s.RawWriteStr("/Artifact BMC")
	draw()
	s.RawWriteStr("EMC")
}

// into puts the tree of pieces into a finished file: what a reader walks through.
func (t tags) into(raw []byte) ([]byte, error) {
	conf := model.NewDefaultConfiguration()
	conf.ValidationMode = model.ValidationRelaxed
	conf.WriteObjectStream, conf.WriteXRefStream = false, false
	ctx, err := api.ReadContext(bytes.NewReader(raw), conf)
	if err != nil {
		return nil, fmt.Errorf("tag a paper: %w", err)
	}
	if err := ctx.EnsurePageCount(); err != nil {
		return nil, fmt.Errorf("tag a paper: %w", err)
	}
	root, err := ctx.Catalog()
	if err != nil {
		return nil, fmt.Errorf("tag a paper: %w", err)
	}
	tree := types.Dict{"Type": types.Name("StructTreeRoot")}
	treeRef, err := ctx.IndRefForNewObject(tree)
	if err != nil {
		return nil, err
	}
	whole := types.Dict{"Type": types.Name("StructElem"), "S": types.Name("Document"), "P": *treeRef}
	wholeRef, err := ctx.IndRefForNewObject(whole)
	if err != nil {
		return nil, err
	}
	tree["K"] = *wholeRef
	parents := map[int]types.Array{}
	kids := types.Array{}
	pages := map[int]*types.IndirectRef{}
	for n := 1; n <= ctx.PageCount; n++ {
		dict, ref, _, err := ctx.PageDict(n, false)
		if err != nil {
			return nil, err
		}
		dict["StructParents"] = types.Integer(n - 1)
		dict["Tabs"] = types.Name("S")
		pages[n] = ref
	}
	for _, one := range t.all {
		elem := types.Dict{"Type": types.Name("StructElem"), "S": types.Name(one.is), "P": *wholeRef, "Pg": *pages[one.page],
			"K": types.Integer(one.id)}
		if one.alt != "" {
			alt, err := types.EscapedUTF16String(one.alt)
			if err != nil {
				return nil, err
			}
			elem["Alt"] = types.StringLiteral(*alt)
		}
		ref, err := ctx.IndRefForNewObject(elem)
		if err != nil {
			return nil, err
		}
		kids = append(kids, *ref)
		parents[one.page] = append(parents[one.page], *ref)
	}
	whole["K"] = kids
	nums := types.Array{}
	for n := 1; n <= ctx.PageCount; n++ {
		nums = append(nums, types.Integer(n-1), parents[n])
	}
	tree["ParentTree"] = types.Dict{"Nums": nums}
	tree["ParentTreeNextKey"] = types.Integer(ctx.PageCount)
	root["StructTreeRoot"] = *treeRef
	root["MarkInfo"] = types.Dict{"Marked": types.Boolean(true)}
	root["ViewerPreferences"] = types.Dict{"DisplayDocTitle": types.Boolean(true)}
	var out bytes.Buffer
	if err := api.WriteContext(ctx, &out); err != nil {
		return nil, fmt.Errorf("tag a paper: %w", err)
	}
	return out.Bytes(), nil
}

func init() { api.DisableConfigDir() } // nothing of this is kept on the machine
