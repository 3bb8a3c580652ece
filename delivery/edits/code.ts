import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'

/** Adds a stylesheet to the page. */
export function applyCss(css: string): AppliedEdit {
  const sheet = document.createElement('style')
  sheet.textContent = css
  ;(document.head ?? document.documentElement).append(sheet)
  const revert = () => sheet.remove()
  return { holds: () => sheet.isConnected, revert, discard: revert }
}

/** Where a script leaves what takes it back. */
const UNDO = '__vetch_undo'

/**
 * Runs a script on its own: its names are its own, and what it throws is an error of the page and stops nobody. What it
 * returns, if that is a function, is called when the page is left within a single-page application.
 */
export function applyScript(code: string): AppliedEdit {
  const script = document.createElement('script')
  const own = `(function(){"use strict";try{window.${UNDO}=(function(){${code}\n})()}catch(e){setTimeout(function(){throw e})}})()`
  script.textContent = trustedPolicy()?.createScript(own) ?? own
  ;(document.head ?? document.documentElement).append(script)
  script.remove()
  const undo = Reflect.get(window, UNDO) as unknown
  Reflect.deleteProperty(window, UNDO)
  return {
    holds: () => true,
    revert: () => {
      if (typeof undo === 'function') undo()
    },
  }
}
