/** What one kind of edit knows of itself. */
export interface EditKind<Content> {
  /** What is wrong with it, in words for the person who made it; empty when it can be applied. */
  problems: (edit: Content) => string[]
  /** One line that says what it does. */
  describe: (edit: Content) => string
  /**
   * What it changes, as a name: of several edits with the same name the first keeps its place, and they become one. A
   * kind without it stands for itself each time.
   */
  changes?: (edit: Content) => string
  /** What goes to browsers of it, where that is not as it was typed. */
  deliver?: (edit: Content) => Content
  /** One edit for two that change the same; null when they cancel out. */
  merge?: (earlier: Content, later: Content) => Content | null
}

/** The later of two edits of one value, from the first original; null when they cancel out. */
export function mergeValues<Content extends { value: unknown; original: unknown }>(
  earlier: Content,
  later: Content,
): Content | null {
  const isBack = JSON.stringify(later.value) === JSON.stringify(earlier.original)
  return isBack ? null : { ...later, original: earlier.original }
}
