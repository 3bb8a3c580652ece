import { eq } from 'drizzle-orm'
import { dayAfter, siteDays } from '../../core/time/siteDay'
import type { Database } from '../../server/database/connect'
import { finding, person } from '../../server/database/schema'
import { createArchive } from '../../server/services/evidence/archive'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { addAttachment } from '../../server/services/attachments'
import { createFinding, mergeFinding, updateFinding } from '../../server/services/findings/findings'
import { freezeView } from '../../server/services/findings/frozenView'
import type { FrozenInput } from '../../shared/findings/finding'
import { SEEN_DAYS, type DemoFinding } from './findings'
import { DAY } from '../../core/time/units'

/** Notes what the team has found, each with the figures that its view had then. */
export async function addFindings(
  database: Database,
  site: { id: number; timeZone: string },
  findings: readonly DemoFinding[],
  now: Date,
): Promise<void> {
  const archive = createArchive(database.$client)
  const evidence = {
    ask: (siteId: number, ask: never, question: never) => archive.answer(siteId, ask, question),
  } as unknown as Pick<EvidenceThread, 'ask'>
  const people = new Map((await database.select().from(person)).map(({ id, name }) => [name, id]))
  const dayOf = siteDays(site.timeZone)
  const ids = new Map<string, number>()
  for (const { by, daysAgo, frozen, pin, file, state, mergedInto, ...fields } of findings) {
    const at = new Date(now.getTime() - daysAgo * DAY)
    const to = dayOf(at.getTime())
    const question = { ...frozen?.question, from: dayAfter(to, 1 - SEEN_DAYS), to }
    const view = frozen
      ? await freezeView({ database, evidence, siteId: site.id }, { ...frozen, question } as FrozenInput, at)
      : null
    const personId = people.get(by) ?? null
    const { id, version } = await createFinding(database, site.id, personId, {
      ...fields,
      frozen: view,
      pin: pin ?? null,
    })
    const target = { siteId: site.id, findingId: id, personId }
    await database.update(finding).set({ createdAt: at }).where(eq(finding.id, id))
    if (state !== 'open') await updateFinding(database, target, { ...fields, state, version })
    if (file) await addAttachment(database, target, { ...fileOf(file), isPicture: false })
    if (mergedInto) await mergeFinding(database, target, ids.get(mergedInto)!)
    ids.set(fields.title, id)
  }
}

const fileOf = ({ name, text }: { name: string; text: string }) => ({ name, content: Buffer.from(text) })
