import { and, eq, inArray } from 'drizzle-orm'
import type { Database } from '../../server/database/connect'
import { experiment, finding, hypothesis, hypothesisComment, person } from '../../server/database/schema'
import { createArchive } from '../../server/services/evidence/archive'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { siteMetrics } from '../../server/services/evidence/choices'
import { addComment } from '../../server/services/hypotheses/comments'
import { createHypothesis } from '../../server/services/hypotheses/hypotheses'
import { refreshFigures } from '../../server/services/hypotheses/ideaFigures'
import { placeByHand } from '../../server/services/hypotheses/stages'
import { updateTerms } from '../../server/services/hypotheses/terms'
import { DEFAULT_TERMS, hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { DEMO_TERMS, DEMO_UNIT_VALUES, type DemoHypothesis } from './hypotheses'
import { DAY } from '../../core/time/units'

/** Writes what the team expects, links it with findings and experiments, and computes its figures. */
export async function addHypotheses(
  database: Database,
  siteId: number,
  hypotheses: readonly DemoHypothesis[],
  now: Date,
): Promise<void> {
  const people = new Map((await database.select().from(person)).map(({ id, name }) => [name, id]))
  const metrics = new Map((await siteMetrics(database, siteId)).map(({ id, name }) => [name, id]))
  const found = await database.select().from(finding).where(eq(finding.siteId, siteId))
  const findings = new Map(found.map(({ id, title }) => [title, id]))
  for (const each of hypotheses) {
    const { lifts, stage, stageReason, experiments = [], daysAgo, comments = [], hand, owner, ...fields } = each
    const [low, likely, high] = lifts ?? [null, null, null]
    const personId = people.get(owner ?? 'Mara Quill') ?? null
    const input = hypothesisSchema.validateSync({
      ...fields,
      low,
      likely,
      high,
      metric: metrics.get(fields.metric),
      owner: owner && people.get(owner),
      findings: fields.findings.map((title) => findings.get(title)!),
    })
    const { id } = await createHypothesis(database, { siteId, personId }, input)
    const createdAt = new Date(now.getTime() - daysAgo * DAY)
    await database
      .update(hypothesis)
      .set({ createdAt, stage, stageReason: stageReason ?? null })
      .where(and(eq(hypothesis.siteId, siteId), eq(hypothesis.id, id)))
    if (experiments.length > 0)
      await database
        .update(experiment)
        .set({ hypothesisId: id })
        .where(and(eq(experiment.siteId, siteId), inArray(experiment.name, experiments)))
    for (const { by, words } of comments)
      await addComment(database, { siteId, hypothesisId: id, personId: people.get(by)! }, words)
    await database.update(hypothesisComment).set({ createdAt }).where(eq(hypothesisComment.hypothesisId, id))
    if (hand) await placeByHand(database, { siteId, hypothesisId: id, personId }, hand)
  }
  const unitValues = Object.fromEntries(
    Object.entries(DEMO_UNIT_VALUES).map(([name, value]) => [metrics.get(name)!, value]),
  )
  const limits = { 'worth testing': 5, 'in test': 5 }
  await updateTerms(
    database,
    { siteId, personId: people.get('Mara Quill') ?? null },
    { ...DEFAULT_TERMS, ...DEMO_TERMS, unitValues, limits },
  )
  const archive = createArchive(database.$client)
  const evidence = {
    ask: (site: number, ask: never, question: never) => archive.answer(site, ask, question),
  } as unknown as Pick<EvidenceThread, 'ask'>
  while ((await refreshFigures({ database, evidence, siteId }, now)).left > 0);
}
