/** An id as browsers make them, of 22 characters, that can still be read. */
export function visitorId(name: string): string {
  if (name.length > 22) throw new Error(`${name} is too long for the id of a visitor.`)
  return name.padEnd(22, '-')
}
