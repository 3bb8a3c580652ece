import { deliveredEdit, orderEdits } from '../../../core/edits/edit'
import type { SheetPageRule } from '../../../core/sheet/content'
import { measuredVariants, wholeAudience, wordingAudiences } from '../../../core/sheet/wordings'
import type { PageRule } from '../../../core/targeting/pageRule'
import type { TestShare } from '../../../core/targeting/whyNot'
import { EVERYWHERE } from '../../../shared/collection/collection'
import { type AnySiteFileEntry, BEHAVIOR_SALT, RECORDING_SALT } from '../../../shared/delivery/siteFile'
import { DRIFT_SALT, DRIFT_SHARE } from '../../../shared/intake/drift'
import type { Queries } from '../../database/connect'
import { site } from '../../database/schema'
import { audienceInliner } from '../audiences/savedAudiences'
import { variantsOf } from '../experiments/variants'
import { liveRollouts } from '../rollouts/liveRollouts'
import { runningSurveys } from '../surveys/runningSurveys'
import { holdoutsOf } from '../traffic/heldOut'
import { periodsOf } from '../traffic/periods'
import type { ExperimentRow, SiteRow } from './compileSiteFile'
import { groupPlaces, inOrder, type Live } from './liveExperiments'

export async function experimentEntries(
  tx: Queries,
  siteId: number,
  { rows, taking }: Pick<Live, 'rows' | 'taking'>,
  { handingOn }: SiteRow,
): Promise<AnySiteFileEntry[]> {
  const isNamed = handingOn !== null
  const variants = await variantsOf(
    tx,
    siteId,
    rows.map(({ id }) => id),
  )
  const inline = await audienceInliner(tx, siteId)
  const placeOf = await groupPlaces(tx, siteId)
  const heldOutOf = await holdoutsOf(tx, siteId)
  const periods = await periodsOf(
    tx,
    siteId,
    rows.map(({ id }) => id),
  )
  const testShare = (row: ExperimentRow): TestShare => ({
    salt: row.salt,
    share: row.share,
    group: placeOf(row),
    holdouts: row.startedAt ? heldOutOf(row.startedAt).map((each) => ({ salt: each.salt, share: each.share })) : [],
  })
  return inOrder(rows).map((row) => {
    const { id, name, purpose, salt, share, pageRules, audienceVersions, terms, startedAt } = row
    const own = variants.get(id) ?? []
    const measured = measuredVariants({ purpose, variants: own })
    const audience = wholeAudience({ purpose, variants: own, audience: row.audience })
    const wordings = wordingAudiences({ purpose, variants: own })
    const holdouts = startedAt ? heldOutOf(startedAt, row.servedFrom) : []
    const period = periods.get(id)?.at(-1)
    const apart = taking.filter((other) => terms.apartFrom?.includes(other.id)).map(testShare)
    return {
      kind: 'experiment',
      id,
      salt,
      share,
      pages: pageRules.map(withoutId),
      audience: audience && inline(audience, audienceVersions),
      group: placeOf(row),
      ...(holdouts.length > 0 ? { holdouts: holdouts.map((each) => ({ salt: each.salt, share: each.share })) } : {}),
      ...(apart.length > 0 ? { apart } : {}),
      ...(terms.activation ? { activation: terms.activation } : {}),
      ...(terms.unit === 'person' ? { unit: 'person' as const } : {}),
      ...(terms.leaves ? { leaves: true as const } : {}),
      ...(isNamed ? { names: [name, ...measured.map((each) => each.name)] } : {}),
      weights: period?.weights ?? measured.map(({ weight }) => weight),
      ...(wordings ? { wordings: wordings.map((each) => each && inline(each, audienceVersions)) } : {}),
      ...(period ? { period: period.period } : {}),
      edits: own.map(({ edits }) => orderEdits(edits).map(deliveredEdit)),
    }
  })
}

/** What has been won is served as an experiment with a single variant is: those outside of its share see the original. */
export async function rolloutEntries(tx: Queries, siteId: number, { handingOn }: SiteRow): Promise<AnySiteFileEntry[]> {
  const inline = await audienceInliner(tx, siteId)
  return (await liveRollouts(tx, siteId)).map(({ row, from, variant, holdouts }) => {
    const { audience, audienceVersions, terms } = from
    return {
      kind: 'experiment',
      id: row.id,
      salt: row.salt,
      share: row.share,
      pages: from.pageRules.map(withoutId),
      audience: row.isForEverybody ? null : audience && inline(audience, audienceVersions),
      group: null,
      ...(holdouts.length > 0 ? { holdouts: holdouts.map(({ salt, share }) => ({ salt, share })) } : {}),
      ...(terms.activation ? { activation: terms.activation } : {}),
      ...(terms.leaves ? { leaves: true as const } : {}),
      ...(handingOn === null ? {} : { names: [from.name, variant.name] as [string, string] }),

      weights: [1],
      edits: [orderEdits(variant.edits).map(deliveredEdit)],
    }
  })
}

/** Behavior and recordings, where the site asks for them. */
export function collectionEntries({
  id,
  collection: { behavior, recording },
}: typeof site.$inferSelect): AnySiteFileEntry[] {
  const { share, pages, masksText } = recording
  const rest = { id, audience: null }
  return [
    ...(behavior.share > 0 ? [{ kind: 'behavior' as const, ...behavior, salt: BEHAVIOR_SALT, ...rest }] : []),
    ...(share > 0 ? [{ kind: 'recording' as const, share, pages, masksText, salt: RECORDING_SALT, ...rest }] : []),
  ]
}

/** Browsers of few visitors look for the elements that what runs changes: nobody else sees the page as it was built. */
export function driftEntries({ id, environmentOf }: SiteRow, rows: readonly ExperimentRow[]): AnySiteFileEntry[] {
  if (environmentOf !== null || rows.length === 0) return []
  return [{ kind: 'drift', id, salt: DRIFT_SALT, share: DRIFT_SHARE, pages: [...EVERYWHERE], audience: null }]
}

export async function surveyEntries(tx: Queries, siteId: number): Promise<AnySiteFileEntry[]> {
  return (await runningSurveys(tx, siteId)).map(({ id, salt, share, pages, audience }) => ({
    kind: 'survey',
    id,
    salt,
    share,
    pages,
    audience: audience ?? null,
  }))
}

function withoutId({ id: _, ...rule }: SheetPageRule): PageRule {
  return rule
}
