import { mediaOfWidths, type Widths } from '../../core/edits/widths'
import type { AppliedEdit } from './applier'
import { safely } from '../snippet/safely'
import { native } from '../native'

/** Edits that stand on the page and hold for some widths of the window. */
const limited = new Set<{ enter: () => void; leave: () => void }>()

/** One edit may take the place of another: all leave before the first enters. */
function settle(): void {
  for (const { leave } of [...limited].reverse()) safely(leave)
  for (const { enter } of [...limited]) safely(enter)
}

/** Applies an edit while the window has the widths that it holds for, and takes it back while it has not. */
export function applyWithin(widths: Widths, element: Element, apply: () => AppliedEdit): AppliedEdit {
  const media = matchMedia(mediaOfWidths(widths))
  let applied: AppliedEdit | null = null
  const own = {
    enter() {
      if (media.matches) applied ??= apply()
    },
    leave() {
      if (media.matches) return
      applied?.revert()
      applied = null
    },
  }
  own.enter()
  limited.add(own)
  media.addEventListener('change', settle)
  const end = () => {
    limited.delete(own)
    media.removeEventListener('change', settle)
  }
  return {
    holds: () => applied?.holds() ?? native(element).isConnected,
    revert() {
      end()
      applied?.revert()
    },
    discard() {
      end()
      applied?.discard?.()
    },
  }
}
