package say

import "slices"

// Texts returns every text of the catalogue by its id, each of its forms as one, with its values in braces.
func Texts() map[string][]string {
	all := map[string][]string{}
	for id, m := range catalogue {
		for _, form := range m {
			text := ""
			for _, p := range form {
				text += p.text
				if p.name != "" {
					text += "{" + p.name + "}"
				}
			}
			all[id] = append(all[id], text)
		}
		slices.Sort(all[id])
	}
	return all
}

// Names returns the names of the values that a text has, in any of its forms.
func Names(id string) []string {
	var all []string
	for _, form := range catalogue[id] {
		for _, p := range form {
			if p.name != "" && !slices.Contains(all, p.name) {
				all = append(all, p.name)
			}
		}
	}
	if len(catalogue[id]) > 1 && !slices.Contains(all, "n") {
		all = append(all, "n")
	}
	slices.Sort(all)
	return all
}
