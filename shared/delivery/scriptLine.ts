/** How long a page is held back at most where a site says nothing else, in ms. */
export const LONGEST_WAIT = 1500

/**
 * Keeps the page unpainted until the snippet has decided, and no longer than a site wants to wait: the animation needs
 * no script, so it ends the wait even when Vetch cannot be reached. Changing a character changes the hash that sites
 * have put into their content security policies.
 *
 * @param wait - the longest wait, in ms
 */
export function waitStyle(wait = LONGEST_WAIT): string {
  return `@keyframes vetch{to{visibility:visible}}html{visibility:hidden;animation:vetch 0s ${wait / 1000}s forwards!important}`
}

/** Name under which browsers keep what is held back on the next page, as JSON; see `heldBack.ts`. */
export const HELD_BACK = 'vetch_held'

/**
 * What a browser does that was here within a week: it holds back what the snippet noted then, or nothing. The second
 * rule of the style says what is held back; its id tells the snippet when that ends, by the clock of the page. Changing a character changes the hash, as that of the style.
 */
export const GUARD =
  'try{var l=localStorage,s=document.currentScript.previousElementSibling,h=JSON.parse(l.vetch_held).filter(function(e){return RegExp(e[0]).test(location)}).map(function(e){return e[1]});if(l.vetch_session.split(" ")[1]>Date.now()-6048e5){if(h[0]){s.sheet.cssRules[1].selectorText=h;s.id=performance.now()+1e3*parseFloat(s.textContent.split(" 0s ")[1])}else s.remove()}}catch(e){}'

/** The part of the line that keeps a page unpainted, for pages whose script comes by a script manager. */
export function waitPiece(wait = LONGEST_WAIT): string {
  return `<style>${waitStyle(wait)}</style><script data-vetch="">${GUARD}</script>`
}

/** The part of a line that loads the script: what a script manager is given. */
export function loaderPiece(line: string): string {
  return line.slice(line.lastIndexOf('<script'))
}

/** The line that connects a page with Vetch. Older lines keep working. */
export function scriptLine(vetchOrigin: string, key: string, wait = LONGEST_WAIT): string {
  return `${waitPiece(wait)}<script async="" fetchpriority="high" src="${vetchOrigin}/s/${key}.js"></script>`
}
