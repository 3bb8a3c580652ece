import type { PreflightFinding } from '../../../core/preflight/preflight'
import type { FactTest, Group } from '../../../core/targeting/condition'
import { conditionInWords, FACT_WORDS, type ConditionNames } from '../../../core/targeting/conditionWords'
import { neverHeld, tallyPast, testTallies } from '../../../core/targeting/neverHeld'
import { replayVisitor, unknownFromPast } from '../../../core/targeting/replay'
import type { Database } from '../../database/connect'
import { pastOfVisitors } from '../audiences/pastOfVisitors'

/** What an audience does with visitors of the last four weeks. */
export interface ReplayedAudience {
  /** Visitors of the pages who were looked at. */
  visitors: number
  /** The first view of each of them on which the audience lets them in. */
  entered: { visitor: string; at: number; view: string }[]
  /** How many of the others each of its own conditions kept out. */
  failing: number[]
  /** Tests that held for nobody, whatever they are joined with, and what was found in their place. */
  neverHeld: { test: FactTest; found: string[] }[]
}

/**
 * Asks the audience of every view that the named visitors had, by the code that browsers decide with.
 *
 * @param addresses - of the tested pages
 * @param from - ms since 1970: views before are known, and let nobody in
 * @param kept - attributes that the site keeps with views
 */
export async function replayAudience(
  database: Database,
  siteId: number,
  audience: Group,
  visitors: readonly string[],
  addresses: ReadonlySet<string>,
  from: number,
  kept: readonly string[],
): Promise<ReplayedAudience> {
  const isTested = (view: { at: number; address: string }) => view.at >= from && addresses.has(view.address)
  const replayed: ReplayedAudience = { visitors: 0, entered: [], failing: audience.of.map(() => 0), neverHeld: [] }
  const tallies = testTallies(audience, unknownFromPast(audience, kept))
  for await (const [visitor, past] of pastOfVisitors(database, siteId, visitors, audience, isTested)) {
    const { entered, failing } = replayVisitor(audience, past)
    replayed.visitors++
    tallyPast(tallies, past)
    if (entered) replayed.entered.push({ visitor, at: Math.floor(entered.at), view: entered.id })
    for (const index of failing) replayed.failing[index]!++
  }
  replayed.neverHeld = neverHeld(tallies)
  return replayed
}

/** What an audience would have done, for the column beside the sheet. */
export function audienceFindings(
  audience: Group,
  { visitors, entered, failing, neverHeld: never }: ReplayedAudience,
  names: ConditionNames = {},
  kept: readonly string[] = [],
): PreflightFinding[] {
  const say = (text: string): PreflightFinding => ({ section: 'who', isStop: false, text })
  const share = (count: number) => `${Math.round((count / Math.max(1, visitors)) * 100)} %`
  const findings: PreflightFinding[] = []
  const unknown = unknownFromPast(audience, kept).map((fact) => FACT_WORDS[fact])
  if (unknown.length > 0)
    findings.push(
      say(`Past data does not say ${unknown.join(', ')}: the forecast takes it that nobody had any of that.`),
    )
  if (visitors === 0) return findings
  const reasons = audience.of.flatMap((each, index) =>
    failing[index]! > 0 ? [`“${conditionInWords(each, names)}” excluded ${share(failing[index]!)}`] : [],
  )
  const because = audience.join === 'all' && reasons.length > 0 ? ` ${reasons.join('; ')}.` : ''
  const looked = `Of ${visitors.toLocaleString('en-US')} visitors of these pages in the last four weeks`
  findings.push(
    entered.length === 0
      ? say(`${looked} the audience would have included nobody.${because}`)
      : entered.length === visitors
        ? say(`${looked} the audience would have included everybody: it rules nobody out.`)
        : say(`${looked} the audience would have included ${share(entered.length)}.${because}`),
  )
  for (const { test, found } of never) {
    const instead = found.length > 0 ? ` Found were: ${found.join(', ')}.` : ''
    findings.push(
      say(
        `“${conditionInWords(test, names)}” held for none of them. Check that it can, and how it is written.${instead}`,
      ),
    )
  }
  return findings
}
