import type { Directive } from 'vue'

type Field = HTMLInputElement | HTMLTextAreaElement

function show(field: Field, value: unknown) {
  const text = String(value ?? '')
  if (field.value !== text) field.value = text
}

/**
 * Shows what is on record in a field that is kept when it is left. While somebody is in the field, what he types stands, whatever
 * news comes in: a bound value would be put back over it at every drawing of the page.
 */
export const vShown: Directive<Field, unknown> = {
  mounted: (field, { value }) => show(field, value),
  updated: (field, { value }) => document.activeElement !== field && show(field, value),
}
