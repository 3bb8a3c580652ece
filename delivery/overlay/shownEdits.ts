import { isOfElement, type Edit } from '../../core/edits/content'
import { matchesPage } from '../../core/targeting/pageRule'
import type { EditOutcome } from '../../shared/edits/pointing'
import type { Applier } from '../edits/applier'
import { everyKind } from '../edits/everyKind'
import { findByClues, findElement } from '../edits/findElement'
import { createKeeper, type Keeper } from '../snippet/keepApplied'
import { nativeDocument } from '../native'
import type { ServedThing } from '../../shared/delivery/preview'
import { keepServed } from '../edits/servedKeeper'
import type { ChangingTexts } from './changingTexts'

/** The page with the edits of a variant, as its visitors see it. */
export interface ShownEdits {
  /** Shows these edits and no others. */
  show: (edits: readonly Edit[]) => EditOutcome[]
  /** Shows the page with what is served there anyway; the edits that are shown come on top of it. */
  serve: (things: readonly ServedThing[]) => void
  /** How the edits fare that are shown. */
  outcomes: () => EditOutcome[]
  /** What the page says while none of the edits is applied. */
  asItIs: <Result>(look: () => Result) => Result
}

export function createShownEdits({ isChanging, unnoted }: ChangingTexts): ShownEdits {
  /** Whatever is put back while the page goes on is no change of the page either. */
  const applier: Applier = {
    ...everyKind,
    apply: (edit, element) => unnoted(() => everyKind.apply(edit, element)),
  }
  let edits: readonly Edit[] = []
  let told: EditOutcome[] = []
  let keeper: Keeper | null = null
  let below: Keeper | null = null
  /** Scripts run once for what they are, and not again with each letter that is typed elsewhere. */
  let scripts: { code: string; keeper: Keeper } | null = null

  function apply(): void {
    const ordered = edits.filter(({ kind }) => kind !== 'redirect')
    keeper = createKeeper(applier)
    keeper.apply(ordered.filter(({ kind }) => kind !== 'script'))
    keeper.keep()
    const own = ordered.filter(({ kind }) => kind === 'script')
    const code = JSON.stringify(own.map((edit) => 'value' in edit && edit.value))
    if (scripts?.code === code) return
    scripts?.keeper.takeBack()
    scripts = { code, keeper: createKeeper(applier) }
    scripts.keeper.apply(own)
  }

  function takeBack(): void {
    keeper?.takeBack()
    keeper = null
  }

  function outcomes(): EditOutcome[] {
    const here = edits.filter(({ isOff, page }) => !isOff && (!page || matchesPage([page], location.href)))
    return here.filter(isOfElement).map((edit) => {
      const matches = countMatches(edit.selector)
      const isDrifted = matches === 0 && !!edit.clues && findByClues(edit.clues) !== null
      return {
        id: edit.id,
        matches,
        found: matches > 0 ? 'selector' : isDrifted ? 'clues' : 'nowhere',
        isChanging: freezesChanging(edit),
      }
    })
  }

  /** Whether an edit puts fixed words in the place of a text that the page changes. */
  function freezesChanging(edit: Edit): boolean {
    if (edit.kind !== 'text' && edit.kind !== 'richText' && edit.kind !== 'html') return false
    const element = findElement(edit.selector, edit.clues)
    return element !== null && isChanging(element)
  }

  return {
    outcomes: () =>
      told.map((each) => {
        const edit = edits.find(({ id }) => id === each.id)
        return { ...each, isChanging: !!edit && freezesChanging(edit) }
      }),
    serve(things) {
      takeBack()
      below?.takeBack()
      below = keepServed(applier, things)
      apply()
    },
    show(wanted) {
      takeBack()
      edits = wanted
      const before = outcomes()
      apply()
      // What one edit brings to the page another may change.
      told = before.map((each) => {
        if (each.found !== 'nowhere') return each
        const edit = edits.find(({ id }) => id === each.id)!
        const matches = isOfElement(edit) ? countMatches(edit.selector) : 0
        return matches > 0 ? { ...each, matches, found: 'selector' as const } : each
      })
      return told
    },
    asItIs(look) {
      takeBack()
      try {
        return look()
      } finally {
        apply()
      }
    },
  }
}

/** How many elements a selector finds; none where the browser cannot read it. */
export function countMatches(selector: string): number {
  try {
    return nativeDocument.querySelectorAll(selector).length
  } catch {
    return 0
  }
}
