package table

import "maps"

// Answer takes in the answer of that name to a question; it reports whether there is one. What was supplied may be any pressure.
func (p *Picks) Answer(a Asked, name string) bool {
	if a.What == AskSupply {
		p.Supply = name
		return true
	}
	for _, c := range a.Choices {
		if c.Name == name {
			p.merge(c.Picks)
			return true
		}
	}
	return false
}

// merge takes in corrections: those that are made last count.
func (p *Picks) merge(more Picks) {
	if more.Turned != nil {
		p.Turned = more.Turned
	}
	if more.Head > 0 {
		p.Head = more.Head
	}
	for _, one := range []struct {
		to   *string
		from string
	}{
		{(*string)(&p.Dates), string(more.Dates)}, {(*string)(&p.Unit), string(more.Unit)}, {(*string)(&p.Leak), string(more.Leak)},
		{&p.Date, more.Date}, {&p.Engine, more.Engine}, {&p.Decimal, more.Decimal}, {&p.Kind, more.Kind}, {&p.Supply, more.Supply},
		{&p.Second, more.Second}, {&p.Ranges, more.Ranges}, {&p.Remarks, more.Remarks}, {&p.Far, more.Far}, {&p.Hidden, more.Hidden},
	} {
		if one.from != "" {
			*one.to = one.from
		}
	}
	if len(more.Engines) > 0 {
		p.Engines = maps.Clone(p.Engines)
		if p.Engines == nil {
			p.Engines = map[string]string{}
		}
		maps.Copy(p.Engines, more.Engines)
	}
	p.Columns = append(p.Columns[:len(p.Columns):len(p.Columns)], more.Columns...)
}
