import { trustedPolicy } from '../trusted'
import type { AppliedEdit } from './applier'
import { nativeDocument } from '../native'

/** Adds a stylesheet to the page. */
export function applyCss(css: string): AppliedEdit {
  const sheet = nativeDocument.createElement('style')
  sheet.textContent = css
  ;(nativeDocument.head ?? nativeDocument.documentElement).append(sheet)
  const revert = () => sheet.remove()
  return { holds: () => sheet.isConnected, revert, discard: revert }
}

/** What browsers call a script of a variant where they say what went wrong in it. */
export const SCRIPT_NAME = 'vetch-variant.js'
/** Where a script leaves what takes it back. */
const UNDO = '__vetch_undo'

/**
 * Runs a script on its own: its names are its own, and what it throws is an error of the page and stops nobody. What it
 * returns, if that is a function, is called when the page is left within a single-page application.
 */
export function applyScript(code: string): AppliedEdit {
  const script = nativeDocument.createElement('script')
  const own = `(function(){"use strict";try{window.${UNDO}=(function(){\n${code}\n})()}catch(e){setTimeout(function(){throw e})}})()\n//# sourceURL=${SCRIPT_NAME}`
  script.textContent = trustedPolicy({ createScript: String })?.createScript(own) ?? own
  ;(nativeDocument.head ?? nativeDocument.documentElement).append(script)
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
