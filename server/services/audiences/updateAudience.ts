import type { SavedAudienceInput } from '../../../shared/audiences/audience'
import type { SavedAudienceView } from '../../../shared/audiences/replies'
import type { Database } from '../../database/connect'
import { compileSiteFile } from '../sites/compileSiteFile'
import { updateAudienceIn } from './savedAudiences'

/**
 * Changes a saved audience: other conditions are a new version. Experiments that run go on with the one that they were
 * started with; drafts and surveys get the new one.
 */
export async function updateAudience(
  database: Database,
  siteId: number,
  personId: number | null,
  audienceId: number,
  input: SavedAudienceInput,
): Promise<SavedAudienceView> {
  return database.transaction(async (tx) => {
    const changed = await updateAudienceIn(tx, siteId, personId, audienceId, input)
    if (changed.uses.some((use) => use.kind === 'survey' && !use.isOver)) await compileSiteFile(tx, siteId)
    return changed
  })
}
