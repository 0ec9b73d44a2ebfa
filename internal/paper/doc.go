// Package paper draws what leaves a workshop on paper: the report, labels for batteries and
// key tags, the reset tag for the mirror. It is given words and figures that were said
// elsewhere, and decides only where they stand. Every page is tagged, so that a screen
// reader finds its headings and is told what a picture shows; its fonts come with it.
//
//	sheet.go      a page: text in runs, marks for what it is, measures in mm
//	tagged.go     the tree of headings and paragraphs, put into the finished file
//	stick.go      the dipstick
//	report.go     one or two pages about a job
//	labels.go     sheets of labels
//	resettag.go   the tag for the mirror
package paper
