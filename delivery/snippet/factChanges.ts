let onChange: (() => void) | undefined

/** Calls when the page has said more of the visitor, or the place has been found. */
export function watchFacts(then: () => void): void {
  onChange = then
}

/** Says that a fact has become known, or is another. */
export function tellChange(): void {
  onChange?.()
}
