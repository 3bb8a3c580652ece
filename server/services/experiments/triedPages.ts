import type { ExperimentSheet } from '../../../shared/experiments/replies'
import { isOfElement } from '../../../core/edits/content'
import { isWithin, selectorProblem } from '../../../core/measurement/elementPath'
import type { PagePolicies } from '../../../core/preflight/policyFindings'
import type { TriedPage } from '../../../core/preflight/triedElements'
import type { TriedTarget } from '../../../core/preflight/variantFindings'
import { matchesPage } from '../../../core/targeting/pageRule'
import type { Database } from '../../database/connect'
import { HttpProblem } from '../HttpProblem'
import { NotReached } from '../sites/fetchGuarded'
import type { CountedPage } from '../sites/countElements'
import { lookedBackTo, type SeenAddress } from './forecast'
import { editedThings } from './editedThings'
import { sql } from 'drizzle-orm'

/** Fetches a page of the site, counts what selectors find on it, and reads its content security policies. */
export type TryPage = (address: string, selectors: readonly string[]) => Promise<CountedPage>

/** Clicks that are looked through, the latest. */
const LOOKED_THROUGH = 5000

/** Which selectors of the edits lead to something that visitors of these pages clicked. */
export async function clickedSelectors(
  database: Database,
  sheet: ExperimentSheet,
  addresses: readonly string[],
  now: Date,
): Promise<ReadonlySet<string>> {
  const answerable = editSelectors(sheet).filter((selector) => selectorProblem(selector) === null)
  if (answerable.length === 0 || addresses.length === 0) return new Set()
  const { rows } = await database.execute<{ element: string }>(sql`
    SELECT DISTINCT element FROM (
      SELECT element FROM event
      WHERE site_id = ${sheet.siteId} AND type IN ('click', 'submit') AND occurred_at >= ${lookedBackTo(now)}
        AND address = ANY(${sql.param(addresses)}::text[]) AND element IS NOT NULL
      ORDER BY occurred_at DESC LIMIT ${LOOKED_THROUGH}
    ) AS latest`)
  return new Set(answerable.filter((selector) => rows.some(({ element }) => isWithin(element, selector))))
}

export function editSelectors(sheet: ExperimentSheet): string[] {
  return [
    ...new Set(editedThings(sheet).flatMap(({ edits }) => edits.filter(isOfElement).map(({ selector }) => selector))),
  ]
}

/** The pages that variants send their visitors to. */
export async function tryTargets(
  { variants }: ExperimentSheet,
  all: readonly SeenAddress[],
  siteAddress: string,
  lineSelector: string,
  tryPage: TryPage,
): Promise<TriedTarget[]> {
  const wanted = variants.flatMap(({ name, edits }) =>
    edits.flatMap((edit) => (edit.kind === 'redirect' && !edit.isOff ? [{ variant: name, value: edit.value }] : [])),
  )
  return Promise.all(
    wanted.map(async ({ variant, value }) => {
      const [tried] = await tryPages([value], siteAddress, [lineSelector], tryPage)
      const { href, pathname } = new URL(value, siteAddress)
      const isOwn = href.startsWith(`${siteAddress}/`)
      // Where visitors have reported from the line is, however it comes to the page.
      const isSeen = isOwn && all.some((each) => matchesPage([{ match: 'exact', value: pathname }], each.address))
      return { variant, ...tried!, isSeen }
    }),
  )
}

export async function tryPages(
  paths: readonly string[],
  siteAddress: string,
  selectors: readonly string[],
  tryPage: TryPage,
): Promise<(TriedPage & PagePolicies)[]> {
  if (selectors.length === 0) return []
  return Promise.all(
    paths.map(async (path): Promise<TriedPage & PagePolicies> => {
      try {
        return { path, problem: null, ...(await tryPage(new URL(path, siteAddress).href, selectors)) }
      } catch (error) {
        if (!(error instanceof HttpProblem)) throw error
        return { path, problem: error.message, isUnanswered: error instanceof NotReached, found: [], policies: [] }
      }
    }),
  )
}
