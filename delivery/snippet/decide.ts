import { assign, variantOf } from '../../core/assignment/assignment'
import type { DeliveredEdit } from '../../core/edits/content'
import { matchesPage } from '../../core/targeting/pageRule'
import { unitOf, whyNot, type Circumstances } from '../../core/targeting/whyNot'
import { fittingWording } from '../../core/sheet/wordings'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { safely } from './safely'

export interface Decision {
  experiment: number
  variant: number
  /** By the weights of which period it was drawn, where the split moves. */
  period?: number
  edits: readonly DeliveredEdit[]
}

/**
 * What a visitor gets on a page: one decision for each experiment that they take part in here.
 *
 * @param circumstances - for sites that ask more than the page
 */
export function decide(
  { entries }: SiteFile,
  visitor: string,
  address: string,
  circumstances?: Circumstances,
): Decision[] {
  const decisions: Decision[] = []
  const variants: Record<string, number> = __WITH_RULES__ ? { ...circumstances!.variants } : {}
  const at = __WITH_RULES__ ? { ...circumstances!, variants } : null
  for (const entry of entries) {
    // One entry that cannot be read must not silence the others.
    safely(() => {
      if (entry.kind !== 'experiment') return
      if (__WITH_RULES__ ? whyNot(entry, visitor, at!) : !matchesPage(entry.pages, address)) return
      // Which wording fits first is not known before each of them can be told.
      if (__WITH_RULES__ && entry.wordings?.some((each) => each && circumstances!.waits?.(each))) return
      // New weights are for new visitors: whoever was drawn before keeps the variant, and the period.
      // Whatever else stands in the browser's memory is as nothing: then the visitor is drawn anew.
      const isKept = __WITH_RULES__ && entry.period !== undefined && entry.edits[variants[entry.id]!] !== undefined
      const drawnIn = isKept ? circumstances!.periods?.[entry.id] : undefined
      const variant = __WITH_RULES__
        ? drawnIn === undefined
          ? variantOf(unitOf(entry, visitor, circumstances!.person)!, entry)
          : variants[entry.id]!
        : assign(visitor, entry)
      if (variant === null) return
      if (__WITH_RULES__) variants[entry.id] = variant
      const place =
        __WITH_RULES__ && variant > 0 && entry.wordings
          ? 1 + fittingWording(entry.wordings, circumstances!.fulfils)
          : variant
      const decision: Decision = { experiment: entry.id, variant, edits: entry.edits[place] ?? [] }
      if (__WITH_RULES__) decision.period = drawnIn ?? entry.period
      decisions.push(decision)
    })
  }
  return decisions
}
