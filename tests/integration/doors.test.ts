import { PLAIN_TERMS } from '../../core/sheet/terms'
import type { Group } from '../../core/targeting/condition'
import { audienceSize } from '../../server/services/audiences/audienceSize'
import { dryRunPast, dryRunPersona } from '../../server/services/audiences/dryRun'
import { createPersona, deletePersona, updatePersona } from '../../server/services/audiences/personas'
import { createAudience, deleteAudience, listAudienceVersions } from '../../server/services/audiences/savedAudiences'
import { updateAudience } from '../../server/services/audiences/updateAudience'
import { createEnvironment, detachEnvironment, showInEnvironment } from '../../server/services/sites/environments'
import { createGroup, deleteGroup } from '../../server/services/traffic/groups'
import { builtInAtHome, readHomeCheck } from '../../server/services/goingHome/lookAtHome'
import { readHoldout } from '../../server/services/traffic/readHoldout'
import { closeHoldout, createHoldout, endHoldout, listHoldouts } from '../../server/services/traffic/holdouts'
import { advanceRamp, followRamps } from '../../server/services/traffic/ramps'
import { randomUUID } from 'node:crypto'
import { resolve } from 'node:path'
import { eq, sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, expect, test } from 'vitest'
import { connect } from '../../server/database/connect'
import { event, experiment, pageView, site, metric, metricVersion } from '../../server/database/schema'
import { cancelJob, listJobs, noteEnd, noteProgress } from '../../server/jobs/backgroundJobs'
import { forgetRawEvents } from '../../server/jobs/housekeeping'
import { openQueue } from '../../server/jobs/queue'
import { refoldExperiment } from '../../server/jobs/refold'
import { createToken, listTokens, revokeToken } from '../../server/services/accounts/tokens'
import { changesOf } from '../../server/services/changes'
import { changeSheet, fillSheet } from '../../server/services/experiments/changeSheet'
import { restoreState } from '../../server/services/experiments/restoreState'
import { endExperiment } from '../../server/services/experiments/endExperiment'
import {
  copyExperiment,
  createExperiment,
  deleteExperiment,
  moveExperiment,
  restoreExperiment,
} from '../../server/services/experiments/experiments'
import { changeRollout, listRollouts, rolloutDays, startRollout } from '../../server/services/rollouts/rollouts'
import { addMetricToStarted } from '../../server/services/experiments/addMetric'
import { addExclusion, listExclusions, removeExclusion } from '../../server/services/experiments/exclusions'
import { listExperiments } from '../../server/services/experiments/listExperiments'
import { findSheet } from '../../server/services/experiments/sheet'
import { readDays } from '../../server/services/results/days'
import { readSegments } from '../../server/services/results/segments'
import { readSplit } from '../../server/services/results/readSplit'
import { reopenSplit, settledAmong, settleSplit } from '../../server/services/experiments/splitSettlement'
import type { EvidenceThread } from '../../server/services/evidence/askEvidence'
import { createArchive } from '../../server/services/evidence/archive'
import { readEvidenceChoices, readRefusals } from '../../server/services/evidence/choices'
import { createSurvey, deleteSurvey, listSurveys, updateSurvey } from '../../server/services/surveys/surveys'
import { findSimilar, readThread } from '../../server/services/hypotheses/archiveAnswers'
import { assessIdea } from '../../server/services/hypotheses/assessIdea'
import { addComment, deleteComment } from '../../server/services/hypotheses/comments'
import {
  createHypothesis,
  deleteHypothesis,
  listHypotheses,
  restoreHypothesis,
  updateHypothesis,
} from '../../server/services/hypotheses/hypotheses'
import { refreshFigures } from '../../server/services/hypotheses/ideaFigures'
import { makeExperiment } from '../../server/services/hypotheses/makeExperiment'
import { followExperiment, placeByHand, setStage } from '../../server/services/hypotheses/stages'
import { hypothesesTable, importHypotheses } from '../../server/services/hypotheses/table'
import { updateTerms } from '../../server/services/hypotheses/terms'
import { DEFAULT_TERMS, expectationSchema, hypothesisSchema } from '../../shared/hypotheses/hypothesis'
import { addAttachment, deleteAttachment, readAttachment } from '../../server/services/attachments'
import {
  createFinding,
  deleteFinding,
  listFindings,
  mergeFinding,
  updateFinding,
} from '../../server/services/findings/findings'
import { sampleEvents } from '../../server/services/evidence/eventSample'
import {
  deletePagePicture,
  listPagePictures,
  readPagePicture,
  readPlaces,
} from '../../server/services/pictures/pagePictures'
import {
  addComment as addSheetComment,
  answerApproval,
  approvalFindings,
  askApproval,
  deleteComment as deleteSheetComment,
  openApprovals,
  withdrawApproval,
} from '../../server/services/experiments/review'
import { siteMembers } from '../../server/services/accounts/siteMembers'
import { checkDrift, driftOf, pausedFor } from '../../server/services/experiments/driftCheck'
import { pinDevice, showOnDevice, shownOnDevice, unpinDevice } from '../../server/services/experiments/pinnedDevices'
import { createPreview, revokePreview, shownByPreview } from '../../server/services/experiments/previews'
import {
  dropUnwanted,
  keepVariantPicture,
  keptDigests,
  listVariantPictures,
  problemsOfPictures,
  readVariantPicture,
} from '../../server/services/pictures/variantPictures'
import { DEVICES } from '../../shared/pictures/variantPicture'
import { addSitePicture, findSitePicture } from '../../server/services/pictures/sitePictures'
import { tagAnswers } from '../../server/services/surveys/answerTags'
import { readSurveyAnswers } from '../../server/services/surveys/surveyAnswers'
import { CROSSINGS_SURVEY } from '../../demo/data/survey'
import { createFunnel, deleteFunnel, listFunnels, updateFunnel } from '../../server/services/evidence/funnels'
import { followArrivals, followRefusals } from '../../server/services/evidence/liveArrivals'
import { readCollection, updateCollection } from '../../server/services/collection/collection'
import { readLooks } from '../../server/services/results/looks'
import { experimentResults } from '../../server/services/results/results'
import { inspectInThread } from '../../server/services/sites/inspectInThread'
import { noteFirstReport, updateSite, findSite } from '../../server/services/sites/sites'
import { today } from '../../server/services/today'
import { scriptLine } from '../../shared/delivery/scriptLine'
import { folded, happen } from '../arrivals'
import { PLAN, primaryMetric } from '../metrics'
import { createTeam } from './people'
import { ownStack } from './ownStack'
import { onEmptyPages } from '../triedPages'
import { DAY } from '../../core/time/units'

const { url, databaseUrl } = ownStack()
const database = connect(databaseUrl, 2)
const queue = await openQueue(databaseUrl, 'sender')
afterAll(async () => {
  await queue.stop({ graceful: false })
  await database.$client.end()
})
const EDIT = { id: 'edit-0001', kind: 'text', selector: 'h1', original: 'Old', value: 'New' } as const
const order = { type: 'event', name: 'order' } as const

test('nobody may show the interface in a frame, and its pages run no script but their own', async () => {
  const page = await fetch(url)
  const policy = page.headers.get('content-security-policy')!
  expect(policy).toContain("frame-ancestors 'none'")
  expect(policy).toMatch(/script-src 'self' 'sha256-/)
  expect(policy).not.toMatch(/script-src[^;]*unsafe/)
  for (const path of ['/', '/api/account']) {
    const { headers } = await fetch(url + path)
    expect([
      path,
      headers.get('x-content-type-options'),
      headers.get('referrer-policy'),
      headers.get('x-frame-options'),
    ]).toEqual([path, 'nosniff', 'same-origin', 'DENY'])
  }
  const team = await createTeam(database)
  const snippet = await fetch(`${url}/s/${team.site.key}.js`)
  expect([snippet.headers.get('x-frame-options'), snippet.headers.get('access-control-allow-origin')]).toEqual([
    null,
    '*',
  ])
})

/** Tables whose rows belong to a site. */
const OF_A_SITE =
  /\b(?:from|join|into|update|delete from)\s+"?(experiment|factor|level|variant|edit|metric|metric_version|experiment_metric|exclusion|page_view|event|visitor|session|person_session|summary_due|reached_verdict|exposure|visitor_value|exposure_count|statistic|look|planned_look|watched_hour|alarm|experiment_summary|change_log|site_file|refusal|set_aside|foreign_amount|fold_cursor|currency_rate|token|background_job|funnel|erasure|recording|recording_chunk|recording_note|kept_style_sheet|survey|finding|attachment|page_picture|hypothesis|hypothesis_finding|hypothesis_comment|idea_traffic|ranking_terms|site_picture|preview|variant_picture|experiment_comment|approval|allocation_period|pinned_device|drift_check|exclusion_group|holdout|answer_tag|saved_audience|saved_audience_version|test_persona|environment_share|rollout|rollout_check|home_check|day_note|person_key|occurrence|notification|webhook|webhook_delivery)"?[\s(]/i

/** The smallest PNG there is. */
const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)

/** Asks everything that can be asked of a site's visits. */
async function readEvidence(siteId: number, experimentId: number): Promise<void> {
  const archive = createArchive(database.$client)
  const filter = { from: '2026-01-01', to: '2026-02-01', segment: `device:phone,variant:${experimentId}.0` }
  const thread = { ask: (site: number, ask: never, question: never) => archive.answer(site, ask, question) }
  await archive.answer(siteId, 'pages', filter)
  await archive.statement(siteId, 'pages', filter)
  await archive.statement(siteId, 'recordings', { ...filter, happened: 'rage,left-form', clicked: 'x', seconds: 3 })
  await readEvidenceChoices(database, thread as unknown as EvidenceThread, siteId, new Date())
  await readRefusals(database, siteId, filter)
  await followArrivals(database.$client, siteId, { network: 'n', browser: 'b' })()
  await followRefusals(database.$client, siteId)()
  const { behavior, recording } = await readCollection(database, siteId)
  await updateCollection(database, siteId, null, { behavior, recording })
  const { id: funnelId } = await createFunnel(database, siteId, null, { name: 'Way', plan: FUNNEL })
  await updateFunnel(database, { siteId, funnelId, personId: null }, { name: 'Way', plan: FUNNEL })
  await listFunnels(database, siteId)
  await deleteFunnel(database, { siteId, funnelId, personId: null })
  const { name, content } = CROSSINGS_SURVEY
  const { id: surveyId } = await createSurvey(database, siteId, null, { name, content })
  const survey = { siteId, surveyId, personId: null }
  await updateSurvey(database, survey, { name, content, version: 1 })
  await listSurveys(database, siteId)
  const answer = { question: 'q1', answers: [{ visitor: 'visitor-a', session: 's', at: 1 }], tag: 'dogs', isOn: true }
  await tagAnswers(database, { siteId, surveyId, personId: null }, answer)
  await tagAnswers(database, { siteId, surveyId, personId: null }, { ...answer, isOn: false })
  await readSurveyAnswers(database, thread as unknown as EvidenceThread, siteId, { ...filter, survey: surveyId })
  await deleteSurvey(database, survey)
  const note = {
    title: 'Seen',
    words: '',
    severity: 'low' as const,
    tags: [],
    page: null,
    frozen: null,
    pin: null,
  }
  const { id: findingId, version } = await createFinding(database, siteId, null, note)
  const found = { siteId, findingId, personId: null }
  await updateFinding(database, found, { ...note, state: 'open', version })
  await listFindings(database, siteId, { search: 'seen' })
  const text = { name: 'x.txt', content: Buffer.from('x'), isPicture: false }
  const { id: attachmentId } = await addAttachment(database, found, text)
  await readAttachment(database, siteId, { findingId }, attachmentId)
  await deleteAttachment(database, siteId, { findingId }, attachmentId)
  await mergeFinding(database, found, null)
  await readIdeas(siteId, findingId, thread as unknown as EvidenceThread)
  await readHoldouts(siteId, thread as unknown as EvidenceThread)
  const target = { siteId, experimentId, personId: null }
  const variants = (await findSheet(database, siteId, experimentId)).variants
  const wanted = { variant: variants[0]!.id, path: '/', days: 1 }
  const made = await createPreview(database, target, wanted, 'secret', new Date())
  const token = new URL(made.link).hash.split('=')[1]!
  const { key } = await findSite(database, siteId)
  expect(await shownByPreview(database, key, token, 'secret', new Date())).toMatchObject({ first: 0 })
  await revokePreview(database, target, made.id, new Date())
  expect(await shownByPreview(database, key, token, 'secret', new Date())).toBe('ended')
  expect(await shownByPreview(database, key, token, 'another', new Date())).toBe(null)
  await deleteFinding(database, found)
  await listPagePictures(database, siteId, { path: '/', width: 390 })
  await addSitePicture(database, { siteId, personId: null }, { name: 'x.png', content: PIXEL })
  const someone = (await siteMembers(database, siteId))[0]!.id
  const { id: draftId } = await createExperiment(database, siteId, null, 'To be approved')
  const asked = { siteId, experimentId: draftId, personId: someone }
  await askApproval(database, asked, someone)
  await answerApproval(database, asked, { answer: 'changes', words: 'Shorter.' })
  await approvalFindings(database, await findSheet(database, siteId, draftId))
  const { comments, approvals } = await addSheetComment(database, asked, 'Seen.')
  await deleteSheetComment(database, asked, comments[0]!.id)
  await openApprovals(database, siteId, someone)
  await withdrawApproval(database, asked, approvals[0]!.id)
  await checkDrift(database, { siteId, experimentId }, new Date(), onEmptyPages)
  await driftOf(database, siteId, [experimentId])
  const asking = { siteId, secret: 'secret', now: new Date() }
  const device = await pinDevice(database, asking, null, 'A phone')
  await showOnDevice(database, asking, device.id, { experiment: experimentId, variant: variants[1]!.id })
  const pin = new URL(device.link).hash.split('=')[1]!
  expect(await shownOnDevice(database, key, pin, 'secret', new Date())).toMatchObject({ device: 'A phone', first: 1 })
  expect(await shownOnDevice(database, key, pin, 'another', new Date())).toBe(null)
  expect(await shownByPreview(database, key, pin, 'secret', new Date())).toBe(null)
  await unpinDevice(database, siteId, device.id, new Date())
  expect(await shownOnDevice(database, key, pin, 'secret', new Date())).toBe('ended')
  const picture = { variant: variants[0]!.id, path: '/', device: DEVICES[0], language: 'en' }
  await keepVariantPicture(
    database,
    target,
    { ...picture, address: 'https://doors.example/', edits: [], digest: 'x' },
    { content: PIXEL, height: 800, problems: [] },
  )
  const { pictures } = await listVariantPictures(database, target, new Date())
  await readVariantPicture(database, target, pictures[0]?.id ?? 1).catch(() => {})
  await keptDigests(database, target)
  await problemsOfPictures(
    database,
    await findSheet(database, siteId, experimentId),
    target,
    ['/'],
    'https://doors.example',
  )
  await dropUnwanted(database, target, { variants: ['nobody'], pages: [] })
  await findSitePicture(database, (await findSite(database, siteId)).key, `${'0'.repeat(64)}.png`)
  for (const read of [readPagePicture, readPlaces, deletePagePicture]) await read(database, siteId, 1).catch(() => {})
  await sampleEvents(database, siteId, { ...filter, kind: 'page' })
  await sampleEvents(database, siteId, { ...filter, kind: 'custom', name: 'order' })
}

/** Does everything that can be done with what experiments share: groups, holdouts, audiences and personas. */
async function shareTraffic(siteId: number, target: { siteId: number; experimentId: number; personId: null }) {
  const now = new Date()
  const [group] = await createGroup(database, siteId, null, { name: 'Booking', kind: 'parts' })
  const [other] = await createGroup(database, siteId, null, { name: 'A', kind: 'turns' })
  await deleteGroup(database, siteId, null, other!.id)
  const phones: Group = { join: 'all', of: [{ fact: 'device', is: 'oneOf', texts: ['phone'] }] }
  const saved = await createAudience(database, siteId, null, { name: 'Phones', conditions: phones })
  const unused = await createAudience(database, siteId, null, { name: 'Unused', conditions: phones })
  await deleteAudience(database, siteId, null, unused.id)
  await updateAudience(database, siteId, null, saved.id, { name: 'Small', conditions: { ...phones, join: 'any' } })
  await listAudienceVersions(database, siteId, saved.id)
  await audienceSize(database, siteId, phones, now)
  await fillSheet(database, target, {
    terms: { ...PLAIN_TERMS, group: group!.id, ramp: [{ share: 500, days: 1 }] },
    audience: { join: 'all', of: [{ fact: 'audience', is: 'yes', id: saved.id }] },
  })
  const [held] = await createHoldout(database, siteId, null, { name: 'Autumn', share: 500, until: '2031-01-01' }, now)
  await listHoldouts(database, siteId, now)
  await endHoldout(database, siteId, null, held!.id, now)
  const staging = { name: 'staging', address: `https://staging-${siteId}.example` }
  const [environment] = await createEnvironment(database, siteId, null, staging)
  await showInEnvironment(database, target, { environment: environment!.id, share: 10_000 })
  await fillSheet(database, target, { hypothesis: 'Shown on staging.' })
  await pausedFor(database, siteId)
  await detachEnvironment(database, siteId, null, environment!.id)
  const persona = await createPersona(database, siteId, null, { name: 'Desk', facts: {} })
  await updatePersona(database, siteId, null, persona.id, { name: 'Desk', facts: { device: 'desktop' } })
  await dryRunPersona(database, siteId, persona.facts, persona.visitor, '/', now)
  await dryRunPast(database, siteId, target.experimentId, now)
  await deletePersona(database, siteId, null, persona.id)
}

/** Reads a holdout, closes it, and reads what it showed; looks up what was found on the site’s own pages. */
async function readHoldouts(siteId: number, evidence: EvidenceThread): Promise<void> {
  const now = new Date()
  const place = { database, evidence, siteId }
  const [held] = await createHoldout(database, siteId, null, { name: 'Read', share: 500, until: '2031-01-01' }, now)
  await readHoldout(place, held!.id, now)
  await closeHoldout(place, null, held!.id, now)
  await readHoldout(place, held!.id, now)
  await builtInAtHome(database, siteId)
  await readHomeCheck(database, { siteId, experimentId: 1 })
}

/** Does everything that can be done with a hypothesis. */
async function readIdeas(siteId: number, findingId: number, evidence: EvidenceThread): Promise<void> {
  const now = new Date()
  await database.insert(metric).values({ id: `metric-doors-${siteId}`, siteId, name: 'Orders' })
  await database.insert(metricVersion).values({
    siteId,
    metricId: `metric-doors-${siteId}`,
    version: 1,
    kind: 'conversion',
    source: { type: 'event', name: 'order' },
  })
  const expected = { metric: `metric-doors-${siteId}`, low: 0, likely: 0.1, high: 0.2, effortDays: 1 }
  const input = hypothesisSchema.validateSync({ title: 'Shorter form', ...expected, findings: [findingId] })
  const { id: hypothesisId, version } = await createHypothesis(database, { siteId, personId: null }, input)
  const target = { siteId, hypothesisId, personId: null }
  await updateHypothesis(database, target, { ...input, version })
  await refreshFigures({ database, evidence, siteId }, now)
  await assessIdea({ database, evidence, siteId }, expectationSchema.validateSync(expected), now)
  await updateTerms(database, target, { ...DEFAULT_TERMS, limits: { 'worth testing': 9, 'in test': 9 } })
  await setStage(database, target, { stage: 'worth testing', reason: null })
  await placeByHand(database, target, { place: 1, reason: 'Because.' })
  await addComment(database, target, 'Seen.')
  await addAttachment(database, target, { name: 'x.txt', content: Buffer.from('x'), isPicture: false })
  await deleteComment(database, { ...target, personId: 1 }, 1).catch(() => {})
  const { id: experimentId } = await makeExperiment(database, target)
  for (const moved of ['start', 'end'] as const)
    await database.transaction((tx) => followExperiment(tx, { siteId, experimentId, personId: null }, moved))
  await findSimilar(database, siteId, { text: 'shorter' })
  for (const of of [{ finding: findingId }, { hypothesis: hypothesisId }, { experiment: experimentId }, { rollout: 1 }])
    await readThread(database, siteId, of)
  await importHypotheses(database, target, [{ title: 'Imported', stage: 'learned' }])
  await hypothesesTable(database, siteId, await listHypotheses(database, siteId, now))
  await deleteHypothesis(database, target)
  await restoreHypothesis(database, target)
}
const FUNNEL = {
  steps: ['a', 'b'].map((name) => ({ name, source: { type: 'event' as const, name } })),

  isStrict: false,
  limitMinutes: null,
  isWithinSession: true,
}

test('every statement on what belongs to a site names the site', async () => {
  const team = await createTeam(database)
  await noteFirstReport(database, team.site.id)
  const siteId = team.site.id
  const sent = new Set<string>()
  const own = pg.Client.prototype.query
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- the library's own signature has a dozen forms
  pg.Client.prototype.query = function (this: pg.Client, ...args: any[]) {
    sent.add(typeof args[0] === 'string' ? args[0] : String((args[0] as { text?: string }).text ?? ''))
    return Reflect.apply(own, this, args)
  } as typeof own
  try {
    const draft = await createExperiment(database, siteId, null, 'Scoped')
    const target = { siteId, experimentId: draft.id, personId: null }
    const list = { part: 'edits', variant: draft.variants[1]!.id } as const
    const change = { do: 'add', list, item: EDIT, before: null } as const
    await changeSheet(database, target, { id: randomUUID(), change })
    await fillSheet(database, target, {
      pageRules: [{ match: 'exact', value: '/' }],
      plan: PLAN,
      metrics: [primaryMetric('Orders', 'mean', order)],
    })
    const [entry] = (await changesOf(database, siteId, { subject: 'experiment', id: draft.id }, { limit: 1 })).items
    await fillSheet(database, target, { hypothesis: 'To be taken back.' })
    await restoreState(database, target, entry!.id)
    await shareTraffic(siteId, target)
    await copyExperiment(database, target)
    await moveExperiment(database, target, 'start')
    await happen(database, team.site, [
      { visitor: 'visitor-a', at: Date.now(), type: 'exposure', experiment: draft.id, variant: 0 },
      { visitor: 'visitor-a', at: Date.now(), type: 'custom', name: 'order', amount: 3, reference: 'A' },
    ])
    await folded(database, siteId)
    await advanceRamp(database, target, new Date())
    await followRamps(database, new Date())
    await experimentResults(database, await findSheet(database, siteId, draft.id), new Date())
    await Promise.all([
      readLooks(database, siteId, draft.id),
      findSheet(database, siteId, draft.id).then((sheet) =>
        Promise.all([
          readDays(database, sheet, new Date()),
          readSegments(database, sheet, new Date()),
          readSplit(database, sheet),
        ]),
      ),
      readEvidence(siteId, draft.id),
      listExclusions(database, siteId, draft.id, { limit: 5 }),
      listExperiments(database, siteId, { limit: 5 }),
      today(database, siteId, new Date()),
      changesOf(database, siteId, { subject: 'experiment', id: draft.id }, { limit: 5 }),
    ])
    const { version } = await findSheet(database, siteId, draft.id)
    const late = primaryMetric('Clicks', 'conversion', { type: 'click', selector: '#late' }, { role: 'secondary' })
    await addMetricToStarted(database, queue, target, version, late)
    await settleSplit(database, target, null, { cause: 'other', words: 'A link.', act: 'name' })
    await settledAmong(database, siteId, [draft.id])
    await reopenSplit(database, target)
    const exclusionId = await addExclusion(database, queue, target, { kind: 'team', reason: 'Ours.' })
    await removeExclusion(database, queue, target, exclusionId)
    await updateSite(database, queue, siteId, null, {
      currency: 'GBP',
      rates: [{ currency: 'EUR', from: '2026-01-01', rate: 0.8 }],
    })
    const jobs = await listJobs(database, siteId, { limit: 5 })
    const job = { siteId, experimentId: draft.id, jobId: jobs.items[0]!.id }
    await refoldExperiment(database, job)
    await noteProgress(database, job, 0.5)
    await noteEnd(database, job, 'failed')
    await cancelJob(database, siteId, job.jobId).catch(() => {})
    const token = await createToken(database, siteId, null, 'A program', 'read')
    await listTokens(database, siteId, { limit: 5 })
    await revokeToken(database, siteId, null, token.id)
    await endExperiment(database, target, { variant: draft.variants[1]!.id, reason: '', person: null })
    const served = await startRollout(database, target, { share: 10_000, isForEverybody: false }, new Date())
    const rolloutTarget = { siteId, rolloutId: served.id, personId: null }
    await listRollouts(database, siteId, new Date())
    await rolloutDays(database, siteId, served.id, new Date())
    await changeRollout(database, rolloutTarget, { version: 1, isOn: false }, new Date())
    await deleteExperiment(database, target)
    await restoreExperiment(database, target)
  } finally {
    pg.Client.prototype.query = own
  }
  const touching = [...sent].filter((statement) => OF_A_SITE.test(statement))
  expect(touching.length).toBeGreaterThan(60)
  expect(touching.filter((statement) => !/site_?id/i.test(statement))).toEqual([])
})

test('a page is inspected in a thread of its own, which is ended when it takes too long', async () => {
  const page = {
    address: 'https://shop.example/',
    html: `<head>${scriptLine('https://vetch.example', 'KEY1')}</head><p ${'a '.repeat(400_000)}><${'b<'.repeat(400_000)}`,
    base: 'https://vetch.example',
    key: 'KEY1',
  }
  const thread = resolve('.output/threads/inspectPage.mjs')
  const task = { look: 'installation', page } as const
  expect((await inspectInThread(thread, task, 60_000)).findings.every(({ passed }) => passed)).toBe(true)
  await expect(inspectInThread(thread, task, 1)).rejects.toMatchObject({ status: 422 })
  // The thread that was ended for it has another in its place.
  expect((await inspectInThread(thread, task, 60_000)).findings.every(({ passed }) => passed)).toBe(true)
})

test('raw events go after as many days as the site says; what was measured stays, and goes on', async () => {
  const team = await createTeam(database)
  const siteId = team.site.id
  const draft = await createExperiment(database, siteId, null, 'Old')
  await fillSheet(
    database,
    { siteId, experimentId: draft.id, personId: null },
    { plan: PLAN, metrics: [primaryMetric('Orders', 'mean', order)] },
  )
  const start = Date.now() - 80 * DAY
  await database
    .update(experiment)
    .set({ state: 'running', startedAt: new Date(start) })
    .where(eq(experiment.id, draft.id))
  await happen(database, team.site, [
    { visitor: 'visitor-a', at: start + DAY, type: 'exposure', experiment: draft.id, variant: 0 },
    { visitor: 'visitor-a', at: start + 2 * DAY, type: 'custom', name: 'order', amount: 30 },
  ])
  await folded(database, siteId)
  await database.update(site).set({ retentionDays: 60 }).where(eq(site.id, siteId))
  await forgetRawEvents(database, new Date())
  expect([
    await database.$count(event, eq(event.siteId, siteId)),
    await database.$count(pageView, eq(pageView.siteId, siteId)),
  ]).toEqual([0, 0])
  await happen(database, team.site, [
    { visitor: 'visitor-a', at: Date.now() - DAY, type: 'custom', name: 'order', amount: 12 },
  ])
  await folded(database, siteId)
  const { metrics } = await experimentResults(database, await findSheet(database, siteId, draft.id), new Date())
  expect(metrics[0]!.arms[0]).toMatchObject({ visitors: 1, sum: 42 })
  expect((await database.execute(sql`SELECT views FROM visitor WHERE site_id = ${siteId}`)).rows[0]?.views).toBe(3)
})
