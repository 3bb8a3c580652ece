import { variantOf } from '../../core/assignment/assignment'
import { matchesPage, matchesPageRule } from '../../core/targeting/pageRule'
import type { WatchedExperiment } from '../../shared/intake/drift'
import type { Recorder, RecorderContext } from '../../shared/intake/recorder'
import { query } from '../edits/applier'
import { findElement } from '../edits/findElement'
import { introduce } from '../recorder/introduce'
import { safely } from '../snippet/safely'
import { nativeDocument } from '../native'

declare const __VETCH_DRIFT__: WatchedExperiment[]

/** A page has built itself by then, or never will. */
const WAIT = 5000
const key = new URL((nativeDocument.currentScript as HTMLScriptElement).src).searchParams.get('key') ?? ''
introduce('drift', key, startLooking)

/** Looks, in each view, for the elements that edits are of, and tells which of them are not there. */
function startLooking({ tell, visitor }: RecorderContext): Recorder {
  let waiting: ReturnType<typeof setTimeout> | undefined
  const stop = () => clearTimeout(waiting)

  function look(): void {
    for (const watched of __VETCH_DRIFT__) safely(() => lookFor(watched))
  }
  function lookFor(watched: WatchedExperiment): void {
    if (!matchesPage(watched.pages, location.href)) return
    const own = variantOf(visitor, watched)
    const elements = watched.elements.filter(
      ({ variant, page }) => variant !== own && (!page || matchesPageRule(page, location.href)),
    )
    if (elements.length === 0) return
    const [lost, byClues]: [string[], string[]] = [[], []]
    for (const { edit, selector, clues } of elements) {
      if (!findElement(selector, clues)) lost.push(edit)
      else if (!query(selector)) byClues.push(edit)
    }
    const looked = elements.map(({ edit }) => edit)
    tell({ type: 'drift', experiment: watched.experiment, properties: { looked, lost, byClues } })
  }

  return {
    enter() {
      stop()
      waiting = setTimeout(look, WAIT)
    },
    leave: stop,
    stop,
  }
}
