/** Widths of the window for which an edit holds, in CSS pixels. Null is no bound. */
export interface Widths {
  /** The least. */
  from: number | null
  /** The first that is too wide. */
  below: number | null
}

export const WIDEST = 10_000

/**
 * What is wrong with widths, in words for the person who chose them.
 *
 * @returns null when there is such a window
 *
 * @example widthsProblem({ from: 800, below: 640 }) // 'No window is from 800 px and below 640 px wide. …'
 */
export function widthsProblem({ from, below }: Widths): string | null {
  if (from === null && below === null) return 'Name the least or the largest width, or choose all widths.'
  if ([from, below].some((bound) => bound !== null && !(Number.isInteger(bound) && bound > 0 && bound <= WIDEST)))
    return `A width is a whole number of pixels from 1 to ${WIDEST.toLocaleString('en-US')}.`
  return (from ?? 0) < (below ?? Infinity)
    ? null
    : `No window is from ${from} px and below ${below} px wide. Make the first number the smaller one.`
}

/** @example isWithin({ from: 640, below: 1024 }, 820) // true */
export function isWithin({ from, below }: Widths, width: number): boolean {
  return width >= (from ?? 0) && width < (below ?? Infinity)
}

export function areSameWidths(one: Widths | null | undefined, other: Widths | null | undefined): boolean {
  return (one?.from ?? null) === (other?.from ?? null) && (one?.below ?? null) === (other?.below ?? null)
}

/**
 * @example describeWidths({ from: null, below: 640 }) // 'below 640 px'
 * @example describeWidths({ from: 640, below: 1024 }) // 'from 640 to 1,023 px'
 */
export function describeWidths({ from, below }: Widths): string {
  if (from === null) return `below ${formatted(below ?? 0)} px`
  return below === null ? `from ${formatted(from)} px` : `from ${formatted(from)} to ${formatted(below - 1)} px`
}

function formatted(pixels: number): string {
  return pixels.toLocaleString('en-US')
}

/**
 * The media query of widths. Windows may be a fraction of a pixel wide: one that is not yet the next whole width belongs
 * to the one before.
 */
export function mediaOfWidths({ from, below }: Widths): string {
  return [from === null ? '' : `(min-width:${from}px)`, below === null ? '' : `(max-width:${below - 0.02}px)`]
    .filter(Boolean)
    .join(' and ')
}

/** Something that holds for some widths, or for all. */
interface Ranged {
  widths?: Widths | null
}

/**
 * For each part of the widths one thing in place of several that hold there: what is named later comes after what is
 * named earlier, and what holds for some widths after what holds for all.
 *
 * @param ranged - in the order they are named
 * @param merge - what two that hold for the same widths come to; null for nothing
 * @returns from narrow to wide, each with widths that no other one has
 */
export function separateByWidth<Any extends Ranged>(
  ranged: readonly Any[],
  merge: (earlier: Any, later: Any) => Any | null,
): Any[] {
  const inOrder = [...ranged.filter(({ widths }) => !widths), ...ranged.filter(({ widths }) => widths)]
  const bounds = new Set(inOrder.flatMap(({ widths }) => [widths?.from ?? 0, widths?.below ?? Infinity]))
  const starts = [...bounds.add(0).add(Infinity)].sort((a, b) => a - b)
  const parts: { holding: Any[]; from: number; below: number }[] = []
  for (const [place, from] of starts.slice(0, -1).entries()) {
    const holding = inOrder.filter(({ widths }) => !widths || isWithin(widths, from))
    const below = starts[place + 1]!
    const last = parts.at(-1)
    const isSame = last?.holding.length === holding.length && holding.every((each, at) => last.holding[at] === each)
    if (last && isSame) last.below = below
    else parts.push({ holding, from, below })
  }
  return parts.flatMap(({ holding, from, below }) => {
    const [first, ...others] = holding
    const merged = others.reduce<Any | null>((before, each) => (before ? merge(before, each) : each), first ?? null)
    const widths = from === 0 && below === Infinity ? null : { from: from || null, below: finite(below) }
    if (!merged) return []
    return areSameWidths(merged.widths, widths) ? [merged] : [{ ...merged, widths }]
  })
}

function finite(bound: number): number | null {
  return bound === Infinity ? null : bound
}
