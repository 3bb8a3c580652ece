const RULES = { createHTML: String, createScript: String, createScriptURL: String }

/**
 * Makes of texts what pages take that demand trusted types; undefined on pages whose browser knows no such types. Pages
 * have to allow the policy `vetch`, and duplicates of it.
 */
export function trustedPolicy(): typeof RULES | undefined {
  const { trustedTypes } = window as { trustedTypes?: { createPolicy: (name: string, rules: object) => typeof RULES } }
  return trustedTypes?.createPolicy('vetch', RULES)
}
