import { redirectTarget } from '../../core/edits/redirect'
import type { AppliedEdit } from './applier'
import { applyCss } from './code'
import { nativeDocument } from '../native'

const REDIRECTS = 'vetch_redirects'
const MOST_REDIRECTS = 3
const SHORTLY = 10_000
/** How long a page is kept unseen that is about to be left, should the other one not come, in ms. */
const PATIENCE = 4000

/**
 * Goes to another page in the place of this one, which is not seen meanwhile. The exposure is noted first: what is to
 * be sent goes when the page does.
 */
export function applyRedirect(to: string): AppliedEdit {
  const target = redirectTarget(to, location.href)
  if (!target || !mayRedirect()) return { holds: () => true, revert: () => {} }
  const unseen = applyCss('html{opacity:0!important}')
  let leaving: ReturnType<typeof setTimeout> | undefined
  const leave = () => (leaving = setTimeout(() => location.replace(target)))
  const patience = setTimeout(unseen.revert, PATIENCE)
  // A page that is only being prepared is left once it is opened, and counted.
  if ((document as { prerendering?: boolean }).prerendering)
    nativeDocument.addEventListener('prerenderingchange', leave, { once: true })
  else leave()
  return {
    holds: () => true,
    revert() {
      nativeDocument.removeEventListener('prerenderingchange', leave)
      clearTimeout(leaving)
      clearTimeout(patience)
      unseen.revert()
    },
  }
}

/** Two redirects may lead to each other's page: after a few in a row the visitor is left where they are. */
function mayRedirect(): boolean {
  const at = Date.now()
  const lately = (sessionStorage.getItem(REDIRECTS) ?? '').split(' ').filter((each) => at - Number(each) < SHORTLY)
  if (lately.length >= MOST_REDIRECTS) return false
  sessionStorage.setItem(REDIRECTS, [...lately, at].join(' '))
  return true
}
