import { isOfElement, type DeliveredEdit } from '../../core/edits/content'
import { matchesPage } from '../../core/targeting/pageRule'
import { query, type Applier, type AppliedEdit } from './applier'
import { applyAttribute, applyClasses, applyImage, applyStyle } from './attributes'
import { applyCss, applyScript } from './code'
import { findElement } from './findElement'
import { applyHtml, applyInsert } from './markup'
import { applyMove, applyRearrange, applyRemove } from './place'
import { applyRedirect } from './redirect'
import { applyRichText } from './richText'
import { applyText } from './text'
import { applyWithin } from './withinWidths'
import { native, nativeDocument } from '../native'

const HIDDEN = { display: 'none' }
const UNSEEN = { visibility: 'hidden' }

/** Carries out every kind of edit. */
export const everyKind: Applier = { find, apply, watch }

function find(edit: DeliveredEdit): Element | null {
  if (edit.page && !matchesPage([edit.page], location.href)) return null
  if (edit.kind === 'move') return findMoved(edit)
  // What is of the page as a whole stands there as soon as the page does.
  return isOfElement(edit) ? findElement(edit.selector, edit.clues) : nativeDocument.documentElement
}

/** What moves, once the place that it goes to is there too. */
function findMoved(edit: Extract<DeliveredEdit, { kind: 'move' }>): Element | null {
  const element = findElement(edit.selector, edit.clues)
  return element && targetOf(edit, element) ? element : null
}

/** Where an element goes; null while that is not there, or inside of it: what another edit does may come in between. */
function targetOf(edit: Extract<DeliveredEdit, { kind: 'move' }>, element: Element): Element | null {
  const target = findElement(edit.to, edit.toClues)
  return target && !native(element).contains(target) ? target : null
}

function apply(edit: DeliveredEdit, element: Element): AppliedEdit {
  return edit.widths ? applyWithin(edit.widths, element, () => applyAtOnce(edit, element)) : applyAtOnce(edit, element)
}

function applyAtOnce(edit: DeliveredEdit, element: Element): AppliedEdit {
  switch (edit.kind) {
    case 'text':
      return applyText(edit.value, element)
    case 'richText':
      return applyRichText(edit.value, element)
    case 'html':
      return applyHtml(edit.value, element)
    case 'insert':
      return applyInsert(edit.value, edit.place, element)
    case 'attribute':
      return applyAttribute(edit.name, edit.value, element)
    case 'image':
      return applyImage(edit.value, element)
    case 'style':
      return applyStyle(edit.value, element)
    case 'classes':
      return applyClasses(edit.add, edit.remove, element)
    case 'move':
      return applyMove(edit.place, targetOf(edit, element), element)
    case 'rearrange':
      return applyRearrange(edit.order, element)
    case 'hide':
      return applyStyle(edit.keepsSpace ? UNSEEN : HIDDEN, element)
    case 'remove':
      return applyRemove(element, () => query(edit.selector))
    case 'css':
      return applyCss(edit.value)
    case 'script':
      return applyScript(edit.value)
    case 'redirect':
      return applyRedirect(edit.value)
  }
}

function watch(kept: readonly { edit: DeliveredEdit }[], again: () => void): { attributeFilter?: string[] } {
  // Clues speak of a page that is complete.
  addEventListener('DOMContentLoaded', again, { once: true })
  const names = kept.flatMap(({ edit }) => {
    switch (edit.kind) {
      case 'attribute':
        return [edit.name]
      case 'image':
        return ['src', 'srcset', 'alt', 'style']
      case 'style':
      case 'hide':
        return ['style']
      case 'classes':
        return ['class']
      default:
        return []
    }
  })
  return names.length > 0 ? { attributeFilter: [...new Set(names)] } : {}
}
