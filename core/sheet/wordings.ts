import type { Group } from '../targeting/condition'
import type { Purpose, SheetVariant } from './content'

/** What a personalization is called where it has several wordings and all of them are meant. */
const ANY_WORDING = 'Served'

interface Sheet {
  purpose: Purpose
  variants: readonly SheetVariant[]
}

/**
 * The variants of a sheet as they are measured: of a personalization those who are held back against all who are served,
 * whichever wording fits them. Wordings are for different visitors, so that none of them can be held against all that are
 * held back.
 *
 * @param sheet - of a personalization, the control's weight is what is held back, of 10,000
 * @returns for a test its variants; for a personalization the control and one that stands for what is served
 */
export function measuredVariants({ purpose, variants }: Sheet): SheetVariant[] {
  const [control, first, ...others] = variants
  if (purpose === 'test' || !control || !first) return [...variants]
  return [control, { ...first, name: others.length > 0 ? ANY_WORDING : first.name, weight: 10_000 - control.weight }]
}

/** A sheet with its variants as they are measured; see `measuredVariants`. */
export function asMeasured<Own extends Sheet>(sheet: Own): Own {
  return { ...sheet, variants: measuredVariants(sheet) }
}

/**
 * Whom a sheet is for in the end: its audience, and of a personalization whose every wording asks for something, those
 * whom one of them fits.
 *
 * @returns null for everybody
 */
export function wholeAudience({ purpose, variants, audience }: Sheet & { audience: Group | null }): Group | null {
  const own = wordingAudiences({ purpose, variants })
  if (own === null || own.includes(null)) return audience
  const any: Group = { join: 'any', of: own.filter((each) => each !== null) }
  return audience ? { join: 'all', of: [audience, any] } : any
}

/** Everything that a sheet asks of visitors, whether or not it lets anybody in; null where it asks for nothing. */
export function askedAudience(sheet: Sheet & { audience: Group | null }): Group | null {
  const all = [sheet.audience, ...(wordingAudiences(sheet) ?? [])].filter((each) => each !== null)
  return all.length > 0 ? { join: 'any', of: all } : null
}

/** For whom each wording is, in their order; null for a sheet whose wordings do not hang on the visitor. */
export function wordingAudiences({ purpose, variants }: Sheet): (Group | null)[] | null {
  if (purpose === 'test') return null
  const own = variants.slice(1).map(({ audience }) => audience ?? null)
  return own.length > 1 || own.some((each) => each !== null) ? own : null
}

/**
 * The wording that a visitor gets whom one of them fits: the first that does. The last one is not asked: it is what is
 * left.
 *
 * @param audiences - of the wordings, in their order
 * @returns its place among them
 */
export function fittingWording(audiences: readonly (Group | null)[], fulfils: (audience: Group) => boolean): number {
  let place = 0
  for (; place < audiences.length - 1; place++) {
    const audience = audiences[place]
    if (!audience || fulfils(audience)) break
  }
  return place
}
