import type { Edit } from '../edits/content'
import type { PreflightFinding } from './preflight'

/** A page with the content security policies that it is served with, from its headers and its markup. */
export interface PagePolicies {
  path: string
  policies: readonly string[]
}

type Inline = 'script' | 'style'
const WORDS: Record<Inline, { adds: string; what: string; instead: string }> = {
  script: { adds: 'script', what: 'scripts', instead: 'or make the change by pointing' },
  style: { adds: 'css', what: 'stylesheets', instead: 'or style the elements by pointing' },
}

/** Edits whose texts browsers read as HTML or as a script, and so hold against trusted types. */
const READ_BY_BROWSERS = new Set<Edit['kind']>(['html', 'insert', 'richText', 'script'])

/**
 * Tells of pages whose policy keeps browsers from running the script, from using the stylesheet, or from reading the
 * HTML that a variant brings. What pointing changes otherwise is done by the snippet and no policy forbids it.
 */
export function policyFindings(
  variants: readonly { name: string; edits: readonly Edit[] }[],
  pages: readonly PagePolicies[],
): PreflightFinding[] {
  return [...inlineFindings(variants, pages), ...trustedTypeFindings(variants, pages)]
}

function trustedTypeFindings(
  variants: readonly { name: string; edits: readonly Edit[] }[],
  pages: readonly PagePolicies[],
): PreflightFinding[] {
  const concerned = variants.filter(({ edits }) =>
    edits.some(({ kind, isOff }) => READ_BY_BROWSERS.has(kind) && !isOff),
  )
  const forbidding = pages.filter(({ policies }) => policies.some(forbidsOwnTypes))
  if (concerned.length === 0 || forbidding.length === 0) return []
  const names = concerned.map(({ name }) => `“${name}”`).join(', ')
  const paths = forbidding.map(({ path }) => path).join(', ')
  const text = `${paths} ${forbidding.length === 1 ? 'demands' : 'demand'} trusted types, so HTML and scripts of ${names} will do nothing there. Add “trusted-types vetch 'allow-duplicates'” to the policy.`
  return [{ section: 'what', isStop: false, text }]
}

function inlineFindings(
  variants: readonly { name: string; edits: readonly Edit[] }[],
  pages: readonly PagePolicies[],
): PreflightFinding[] {
  return (['script', 'style'] as const).flatMap((kind): PreflightFinding[] => {
    const { adds, what, instead } = WORDS[kind]
    const concerned = variants.filter(({ edits }) => edits.some((edit) => edit.kind === adds && !edit.isOff))
    const forbidding = pages.filter(({ policies }) => policies.some((policy) => forbidsInline(policy, kind)))
    if (concerned.length === 0 || forbidding.length === 0) return []
    const names = concerned.map(({ name }) => `“${name}”`).join(', ')
    const paths = forbidding.map(({ path }) => path).join(', ')
    const text = `${paths} ${forbidding.length === 1 ? 'forbids' : 'forbid'} ${what} that are not its own (Content-Security-Policy), so those of ${names} will do nothing there. Have the policy allow them, ${instead}.`
    return [{ section: 'what', isStop: false, text }]
  })
}

/**
 * Whether a policy forbids elements that carry their script or style in themselves.
 *
 * @param header - value of a Content-Security-Policy, which may hold several policies
 * @see W3C, Content Security Policy Level 3, § 6.7.3.2: Does a source list allow all inline behavior for type?
 * @example forbidsInline("script-src 'self'", 'script') // true
 */
export function forbidsInline(header: string, kind: Inline): boolean {
  return header.split(',').some((policy) => {
    const directives = directivesOf(policy)
    const sources =
      directives.get(`${kind}-src-elem`) ?? directives.get(`${kind}-src`) ?? directives.get('default-src') ?? null
    if (!sources) return false
    const isOverruled = sources.some(
      (source) => /^'(nonce|sha(256|384|512))-/.test(source) || (kind === 'script' && source === "'strict-dynamic'"),
    )
    return !sources.includes("'unsafe-inline'") || isOverruled
  })
}

/**
 * Whether a policy demands trusted types and does not let the snippet make any.
 *
 * @see W3C, Trusted Types, § 4.2: the directives require-trusted-types-for and trusted-types
 * @example forbidsOwnTypes("require-trusted-types-for 'script'; trusted-types vetch") // true
 */
export function forbidsOwnTypes(header: string): boolean {
  return header.split(',').some((policy) => {
    const directives = directivesOf(policy)
    if (!directives.get('require-trusted-types-for')?.includes("'script'")) return false
    const allowed = directives.get('trusted-types')
    return !!allowed && !(/(^| )(vetch|\*)( |$)/.test(allowed.join(' ')) && allowed.includes("'allow-duplicates'"))
  })
}

/** Sources by directive; of a directive that is there twice the first counts. */
function directivesOf(policy: string): Map<string, string[]> {
  const directives = new Map<string, string[]>()
  for (const part of policy.split(';')) {
    const [name, ...sources] = part.trim().toLowerCase().split(/\s+/)
    if (name && !directives.has(name)) directives.set(name, sources)
  }
  return directives
}
