import { assign } from '../../core/assignment/assignment'
import type { DeliveredEdit } from '../../core/edits/content'
import { matchesPage } from '../../core/targeting/pageRule'
import type { Group } from '../../core/targeting/condition'
import type { SiteFile } from '../../shared/siteFile'
import { safely } from './safely'

export interface Decision {
  experiment: number
  variant: number
  edits: readonly DeliveredEdit[]
}

/**
 * What a visitor gets on a page: one decision for each experiment that they take part in here.
 *
 * @param isIn - whether the visitor fulfils conditions
 */
export function decide(
  { entries }: SiteFile,
  visitor: string,
  address: string,
  isIn?: (audience: Group) => boolean,
): Decision[] {
  const decisions: Decision[] = []
  for (const entry of entries) {
    // One entry that cannot be read must not silence the others.
    safely(() => {
      if (entry.kind !== 'experiment' || !matchesPage(entry.pages, address)) return
      if (__WITH_AUDIENCES__ && entry.audience && !isIn!(entry.audience)) return
      const variant = assign(visitor, entry)
      if (variant !== null) decisions.push({ experiment: entry.id, variant, edits: entry.edits[variant] ?? [] })
    })
  }
  return decisions
}
