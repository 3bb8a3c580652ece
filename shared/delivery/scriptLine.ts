/**
 * Keeps the page unpainted until the snippet has decided, for a second and a half at most: the animation needs no script,
 * so it ends the wait even when Vetch cannot be reached. Changing a character changes the hash that sites
 * have put into their content security policies.
 */
export const WAIT_STYLE =
  '@keyframes vetch{to{visibility:visible}}html{visibility:hidden;animation:vetch 0s 1.5s forwards!important}'

/** SHA-256 of `WAIT_STYLE`, as a source expression of a content security policy. */
export const WAIT_STYLE_HASH = 'sha256-lbKoAThDSYtFMS6QF0O2dJ491Vn/FxIOBmfPLsGcRGA='

/** The line that connects a page with Vetch; the same forever. */
export function scriptLine(vetchOrigin: string, key: string): string {
  return `<style>${WAIT_STYLE}</style><script async="" src="${vetchOrigin}/s/${key}.js"></script>`
}
