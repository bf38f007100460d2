// Package rules holds every rule and figure of the trade that Braxel goes by, each once, with its unit, why it is so and where it is
// from. It lies below everything that decides; nothing in it decides.
//
// A figure is a constant with one comment: what it is and why, then in brackets its unit and its source. docs/rules.md is made of these
// comments and of the tables, by “make docs”; a test fails where the two differ. Sources are: trade (what builders and makers commonly go
// by), practice (how people test, as builders tell it), physics, standard (named), judgement (ours, where the trade has no figure; the
// first to be questioned).
package rules

import "braxel/internal/core/units"

// psi is a pressure in the trade's usual unit.
func psi(v float64) units.Pressure { return units.Reading{Value: v, Unit: units.PSI}.Pressure() }
