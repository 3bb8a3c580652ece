import { assign } from '../../core/assignment/assignment'
import type { DeliveredEdit } from '../../core/edits/content'
import { matchesPage } from '../../core/targeting/pageRule'
import type { SiteFile } from '../../shared/siteFile'
import { safely } from './safely'

export interface Decision {
  experiment: number
  variant: number
  edits: readonly DeliveredEdit[]
}

/** What a visitor gets on a page: one decision for each experiment that they take part in here. */
export function decide({ entries }: SiteFile, visitor: string, address: string): Decision[] {
  const decisions: Decision[] = []
  for (const entry of entries) {
    // One entry that cannot be read must not silence the others.
    safely(() => {
      if (entry.kind !== 'experiment' || !matchesPage(entry.pages, address)) return
      const variant = assign(visitor, entry)
      if (variant !== null) decisions.push({ experiment: entry.id, variant, edits: entry.edits[variant] ?? [] })
    })
  }
  return decisions
}
