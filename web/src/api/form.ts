/** A form with a file, as a call of the API takes it. */
export function asForm(fields: Record<string, string | Blob>) {
  const body = new FormData()
  for (const [name, value] of Object.entries(fields)) body.append(name, value)
  return { body: body as never, bodySerializer: (b: unknown) => b as FormData }
}
