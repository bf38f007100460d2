package say

import (
	"fmt"
	"strconv"
)

// write puts a value into words: by a verb of package fmt, or as people write it.
func write(v any, verb string) string {
	if verb != "" {
		return fmt.Sprintf("%"+verb, v)
	}
	switch v := v.(type) {
	case string:
		return v
	case int:
		return strconv.Itoa(v)
	case float64:
		return strconv.FormatFloat(v, 'f', -1, 64)
	case []byte:
		return string(v)
	case nil:
		return ""
	}
	return fmt.Sprint(v)
}
