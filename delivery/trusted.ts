/**
 * Makes of texts what pages take that demand trusted types; undefined in browsers that know no such types. Pages have to
 * allow the policy `vetch`, and duplicates of it.
 *
 * @example trustedPolicy({ createHTML: String })?.createHTML(html) ?? html
 */
export function trustedPolicy<Rules extends object>(rules: Rules): Rules | undefined {
  const { trustedTypes } = window as { trustedTypes?: { createPolicy: (name: string, rules: Rules) => Rules } }
  return trustedTypes?.createPolicy('vetch', rules)
}
