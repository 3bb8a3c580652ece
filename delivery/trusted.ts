interface Policy {
  createHTML: (text: string) => string
  createScript: (text: string) => string
  createScriptURL: (text: string) => string
}

let made: Policy | undefined

/**
 * Makes of texts what pages take that demand trusted types; undefined in browsers that know no such types. Pages have to
 * allow the policy `vetch`, and duplicates of it: each of our scripts has its own.
 *
 * @example trustedPolicy()?.createHTML(html) ?? html
 */
export function trustedPolicy(): Policy | undefined {
  const { trustedTypes } = window as { trustedTypes?: { createPolicy: (name: string, rules: Policy) => Policy } }
  // Kept once it is there: to make one costs as much as an edit.
  made ??= trustedTypes?.createPolicy('vetch', { createHTML: String, createScript: String, createScriptURL: String })
  return made
}
