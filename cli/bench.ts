import { measureEventLoops } from '../bench/attack'
import { measureAssign } from '../bench/assign'
import { measureAnalysis } from '../bench/analysis'
import { measureCalibration } from '../bench/calibration/calibration'
import { measureAudienceSize } from '../bench/audience'
import { measureDecide } from '../bench/decide'
import { measureDatabase } from '../bench/database'
import { measureHeatmap, measureRecorder, measureReports } from '../bench/evidence'
import { measureHistory } from '../bench/history'
import { measureHypotheses, measureQuarter } from '../bench/hypotheses'
import { checkMeasured, isQuick, type Measurement } from '../bench/measurement'
import { measureEdits } from '../bench/edits'
import { measurePageCost } from '../bench/pageCost'
import { measureSnippet } from '../bench/snippet'
import { helpOf } from './helpOf'
import { HumanError } from './HumanError'
import { buildApplication } from './stack/build'

/** Those that need neither the application nor a database. */
const PURE = {
  assign: measureAssign,
  decide: measureDecide,
  analysis: measureAnalysis,
  calibration: measureCalibration,
  heatmap: measureHeatmap,
  history: measureHistory,
  quarter: measureQuarter,
}
const REPORTS = ['pages', 'funnel']
const DATABASE = ['intake', 'fold', 'fold-known', 'fold-looks', 'site-file', 'serve', 'busy-visitor', 'list', 'results']
const NAMES = [
  ...Object.keys(PURE),
  'snippet',
  'edits',
  'page-cost',
  'recorder',
  'hypotheses',
  'audience-size',
  'event-loops',
  ...REPORTS,
  ...DATABASE,
]

/** Prints one JSON line a measurement; names choose among them. */
export async function run(args: string[]): Promise<number> {
  if (args.includes('--help')) {
    console.log(helpOf('bench').replace('NAME', NAMES.join(' | ')))
    return 0
  }
  const named = args.filter((arg) => arg !== '--quick')
  const unknown = named.find((name) => !NAMES.includes(name))
  if (unknown) throw new HumanError(`There is no measurement "${unknown}". There are: ${NAMES.join(', ')}.`)
  const wanted = new Set(named.length > 0 ? named : NAMES)
  const missed: string[] = []
  const print = (measurements: Measurement[]) => {
    for (const each of measurements) {
      console.log(JSON.stringify(each))
      checkMeasured(each)
      if (each.details?.holds === false && !isQuick) missed.push(String(each.details.claim ?? each.name))
    }
  }
  for (const [name, measure] of Object.entries(PURE)) if (wanted.has(name)) print(await measure())
  if ([...wanted].every((name) => name in PURE)) return told(missed)
  await buildApplication()
  if (wanted.has('snippet')) print(await measureSnippet())
  if (wanted.has('edits')) print(await measureEdits())
  if (wanted.has('page-cost')) print(await measurePageCost())
  if (wanted.has('recorder')) print(await measureRecorder())
  if (wanted.has('audience-size')) print(await measureAudienceSize())
  if (wanted.has('event-loops')) print(await measureEventLoops())
  if (wanted.has('hypotheses')) print(await measureHypotheses())
  if (REPORTS.some((name) => wanted.has(name))) print(await measureReports(wanted))
  if (DATABASE.some((name) => wanted.has(name))) print(await measureDatabase(wanted))
  return told(missed)
}

/** Says which aims were missed; the exit code tells programs. */
function told(missed: readonly string[]): number {
  for (const aim of missed) console.error(`Missed: ${aim}`)
  return missed.length === 0 ? 0 : 1
}
