import { shortened } from '../edits/element'
import { separateChanges } from '../edits/separateChanges'
import type { SheetContent, SheetFactor, SheetVariant } from '../sheet/content'
import type { SheetChange } from '../sheet/change'
import { combinedVariants } from './combinations'

/** Names of factors are short: they head rows and columns. */
const LONGEST_NAME = 40
/** More of them cannot all be told apart by as many combinations as run. */
export const MOST_FACTORS = 6
export const FIRST_LEVEL_NAME = 'As it is'

type Parts = Pick<SheetContent, 'variants' | 'factors' | 'combinationsOff'>

/**
 * The change that makes an A/B test a multivariate one. Where one variant does several separate things, each of them
 * becomes a factor; otherwise the variants become levels of a first factor, beside a second that is still empty.
 *
 * @param drawId - a new id each time
 */
export function asMultivariate(content: SheetContent, drawId: () => string): SheetChange {
  const [, only, ...more] = content.variants
  const all = only && more.length === 0 ? separateChanges(only.edits) : []
  const changes = all.length > MOST_FACTORS ? [] : all
  const names = factorNames(changes.map(({ thing }) => thing))
  // What is switched off belongs nowhere, and is kept.
  const off = only?.edits.filter(({ isOff }) => isOff) ?? []
  const factors =
    changes.length > 1
      ? changes.map(({ edits }, place) => {
          const level = { id: drawId(), name: 'Changed', edits: place === 0 ? [...edits, ...off] : edits }
          return factorOf(names[place]!, [level], drawId)
        })
      : [
          factorOf('Factor 1', content.variants.slice(1).map(levelOf), drawId),
          factorOf('Factor 2', [{ id: drawId(), name: 'Changed', edits: [] }], drawId),
        ]
  const to = { factors, combinationsOff: [] }
  return replacement(content, { ...to, variants: combinedVariants(to) })
}

/** The change that makes a multivariate test an A/B test, with a variant for each combination that is on. */
export function asSplitTest(content: SheetContent): SheetChange {
  const variants = content.variants.map(({ levels: _, ...variant }) => ({
    ...variant,
    name: shortened(variant.name, 58),
  }))
  return replacement(content, { factors: [], combinationsOff: [], variants })
}

function replacement({ variants, factors, combinationsOff }: Parts, to: Parts): SheetChange {
  return { do: 'replace', from: { variants, factors, combinationsOff }, to }
}

function factorOf(name: string, levels: SheetFactor['levels'], drawId: () => string): SheetFactor {
  return { id: drawId(), name, levels: [{ id: drawId(), name: FIRST_LEVEL_NAME, edits: [] }, ...levels] }
}

function levelOf({ id, name, edits }: SheetVariant): SheetFactor['levels'][number] {
  return { id, name, edits }
}

/** Short names for things that are changed, each once. */
function factorNames(things: readonly string[]): string[] {
  const names = things.map((thing) => shortened(thing, LONGEST_NAME))
  return names.map((name, place) => {
    const like = names.slice(0, place).filter((each) => each === name).length
    return like === 0 ? name : `${name} (${like + 1})`
  })
}
