import { assign } from '../../core/assignment/assignment'
import type { Edit } from '../../core/edits/edit'
import { matchesPage } from '../../core/targeting/pageRule'
import type { SiteFile } from '../../shared/siteFile'

export interface Decision {
  experiment: number
  variant: number
  edits: readonly Edit[]
}

/** What a visitor gets on a page: one decision for each experiment that they take part in here. */
export function decide(siteFile: SiteFile, visitor: string, address: string): Decision[] {
  const decisions: Decision[] = []
  for (const experiment of siteFile.experiments) {
    if (!matchesPage(experiment.pages, address)) continue
    const variant = assign(visitor, experiment)
    if (variant !== null) decisions.push({ experiment: experiment.id, variant, edits: experiment.edits[variant] ?? [] })
  }
  return decisions
}
