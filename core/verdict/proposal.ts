import type { Verdict } from './verdict'

/**
 * Which variant a verdict proposes to keep: the one that it ships, and the control where nothing else is better.
 *
 * @param names - of the variants, the control first
 * @returns its position; null where the verdict proposes none
 */
export function proposedPosition({ kind, variant }: Verdict, names: readonly string[]): number | null {
  switch (kind) {
    case 'ship':
    case 'ship-low-risk': {
      const position = names.findIndex((name) => name === variant)
      return position < 0 ? null : position
    }
    // Of several variants another one may still be better.
    case 'harm':
      return names.length === 2 ? 0 : null
    case 'no-difference':
      return 0
    default:
      return null
  }
}
