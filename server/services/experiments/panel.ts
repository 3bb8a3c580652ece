import type { PanelLink } from '../../../shared/audiences/replies'
import { eq } from 'drizzle-orm'
import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import type { DeliveredPanel } from '../../../shared/delivery/panel'
import type { Database } from '../../database/connect'
import { site } from '../../database/schema'
import { isMemberBySession } from '../accounts/sessions'
import { audienceNames } from '../audiences/audienceSize'
import { everything } from '../audiences/dryRun'
import { HttpProblem } from '../HttpProblem'
import { liveRollouts } from '../rollouts/liveRollouts'
import { findSiteFile } from '../sites/siteFiles'
import { pageToken, readPageToken } from './pageToken'
import { listSheets } from './sheet'
import { HOUR } from '../../../core/time/units'

/** A link to a page of the site that shows the panel for an hour, to whoever is signed in with one session. */
export function openPanel(
  { key, address }: { key: string; address: string },
  sessionId: number,
  path: string,
  secret: string,
  now: number,
): PanelLink {
  const page = new URL(path, address)
  if (page.origin !== new URL(address).origin) throw new HttpProblem(422, 'The panel opens on a page of its own site.')
  const expires = now + HOUR
  page.hash = `vetch-point=${pageToken('panel', key, sessionId, expires, secret)}`
  return { link: page.href, expiresAt: new Date(expires).toISOString() }
}

/**
 * What a token of the panel shows on the pages of the site of a key.
 *
 * @returns `ended` for one that has run out, whose session was closed, or who is no member any more; null for one that is forged or of another site
 */
export async function shownInPanel(
  database: Database,
  key: string,
  token: string,
  secret: string,
  now: Date,
): Promise<DeliveredPanel | 'ended' | null> {
  const read = readPageToken('panel', key, token, secret)
  if (!read) return null
  if (read.expires <= now.getTime() || !(await isMemberBySession(database, read.id, key))) return 'ended'
  const [owner] = await database.select({ id: site.id }).from(site).where(eq(site.key, key))
  const siteFile = await findSiteFile(database, key)
  if (!owner || !siteFile) return 'ended'
  const sheets = await listSheets(database, owner.id, ['draft', 'running', 'paused'])
  const byId = new Map(sheets.map((sheet) => [sheet.id, sheet]))
  const things = await everything(database, owner.id, now)
  const rollouts = await liveRollouts(database, owner.id)
  return {
    things: things.map((thing) => {
      const served = thing.kind === 'rollout' ? rollouts.find(({ row }) => row.id === thing.id) : null
      if (served) {
        const { name, edits } = served.variant
        return { ...thing, variants: [{ name, edits: orderEdits(edits).map(deliveredEdit) }] }
      }
      const sheet = thing.kind === 'experiment' ? byId.get(thing.id) : null
      if (!sheet) return { ...thing, variants: [] }
      const { variants, allowsScripts } = sheet
      return {
        ...thing,
        variants: variants.map(({ name, edits }) => {
          const allowed = edits.filter(({ kind }) => allowsScripts || kind !== 'script')
          return { name, edits: orderEdits(allowed).map(deliveredEdit) }
        }),
      }
    }),
    siteFile,
    audiences: await audienceNames(database, owner.id),
    expires: read.expires,
  }
}
