/** What visitors' browsers tell of the element of an edit: of how many visitors each was told. */
export interface ElementTold {
  /** Id of the edit. */
  edit: string
  /** Visitors in whose browsers it was looked for. */
  looked: number
  /** Of them those in whose browsers it never was there. */
  lost: number
  /** Of them those in whose browsers it was only found by what it says. */
  byClues: number
}

/** Fewer than these may all have been on one odd page. */
export const LEAST_LOOKED = 20
/** An edit of several pages may miss its element on some of them; one that drifts misses it nearly everywhere. */
const SHARE_LOST = 0.9
const SHARE_BY_CLUES = 0.5

/**
 * Elements that browsers do not find where an edit expects them: they see the page as its own scripts have built it,
 * which nobody else does.
 *
 * @param inWords - what an edit is of, such as “Warm: heading “Three islands””; undefined for an edit that is gone
 * @returns for each such edit a key that stays the same and a sentence
 */
export function toldDrift(
  told: readonly ElementTold[],
  inWords: (edit: string) => string | undefined,
): { key: string; text: string }[] {
  return told.flatMap(({ edit, looked, lost, byClues }) => {
    const words = inWords(edit)
    if (words === undefined || looked < LEAST_LOOKED) return []
    const of = `${looked.toLocaleString('en-US')} visitors whose browsers looked lately`
    if (lost >= looked * SHARE_LOST)
      return [{ key: `lost ${edit}`, text: `${words} was not on the page for ${count(lost)} of ${of}.` }]
    if (byClues < looked * SHARE_BY_CLUES) return []
    const text = `${words} was found only by what it says for ${count(byClues)} of ${of}: the selector of the edit fits no more.`
    return [{ key: `clues ${edit}`, text }]
  })
}

const count = (visitors: number) => visitors.toLocaleString('en-US')
