// Writes what the API's description says of its fields as values: the words that one may hold, and the longest text. The types come from
// openapi-typescript; these are for lists to choose from and fields that end where the server's do.
import { readFileSync, writeFileSync } from 'node:fs'

const { schemas } = JSON.parse(readFileSync('openapi.json', 'utf8')).components
const words = {}
const longest = {}
for (const [name, schema] of Object.entries(schemas)) {
  for (const [field, property] of Object.entries(schema.properties ?? {})) {
    const enums = property.enum ?? property.items?.enum
    if (enums?.every((v) => typeof v === 'string')) (words[name] ??= {})[field] = enums
    if (property.maxLength) (longest[name] ??= {})[field] = property.maxLength
  }
}
const written = (name, value) =>
  `export const ${name} = {\n` +
  Object.entries(value)
    .map(([schema, fields]) => {
      const lines = Object.entries(fields).map(([field, v]) => `    '${field}': ${JSON.stringify(v)},`)
      return `  '${schema}': {\n${lines.join('\n')}\n  },`
    })
    .join('\n') +
  `\n} as const\n`
writeFileSync(
  'src/api/constants.gen.ts',
  `// Made by scripts/constants.mjs from openapi.json: change the Go types instead.\n\n` +
    `/** The words that a field may hold. */\n${written('words', words)}\n` +
    `/** The longest text that a field may hold. */\n${written('longest', longest)}`,
)
