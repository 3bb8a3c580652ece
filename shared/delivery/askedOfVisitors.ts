import { testsIn, type FactTest } from '../../core/targeting/condition'
import type { AnySiteFileEntry } from './siteFile'

/** Everything that an entry asks of visitors: by its audience, and by whom its wordings are for. */
export function askedOfVisitors(entry: AnySiteFileEntry): FactTest[] {
  const wordings = entry.kind === 'experiment' ? entry.wordings : null
  return [entry.audience, ...(wordings ?? [])].flatMap((audience) => (audience ? testsIn(audience) : []))
}
