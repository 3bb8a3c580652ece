/** A value as JSON, whatever the page has taught lists and texts to say of themselves (`Array.prototype.toJSON`). */
export function jsonText(value: unknown): string {
  return JSON.stringify(value, function (this: Record<string, unknown>, key) {
    return this[key]
  })
}
