/** A number as it is typed, or what is typed where it is none: whoever checks it says so. */
export function numberOrTyped(typed: unknown): number | string {
  const text = String(typed ?? '').trim()
  return text !== '' && Number.isFinite(Number(text)) ? Number(text) : text
}
