import { overTime } from '../core/evidence/overTime'
import { selectSessions } from '../core/evidence/selection'
import { KIND, Visits, type Step } from '../core/evidence/visits'
import { aroundDay } from '../core/history/aroundDay'
import { createRandom } from '../demo/visitors/random'
import { DAY } from '../core/time/units'
import { medianMilliseconds, rounded, sized, type Measurement } from './measurement'

const DAYS = sized(400, 60)
const MARKS = sized(200, 5)
const SESSIONS = sized(125_000, 2000)
const VIEWS_A_SESSION = 4
const START = Date.UTC(2026, 0, 1)
const MOMENTS = Array.from({ length: DAYS + 1 }, (_, day) => START + day * DAY)
const NAMES = MOMENTS.map((at) => new Date(at).toISOString().slice(0, 10))
const CONVERTED = { type: 'visit', page: { match: 'exact', value: '/done' } } as const

function manyDays(): Visits {
  const visits = new Visits('site.example')
  const random = createRandom(7)
  for (let session = 0; session < SESSIONS; session++) {
    const at = START + Math.floor((session / SESSIONS) * DAYS * DAY)
    for (let view = 0; view < VIEWS_A_SESSION; view++) {
      const step: Step = {
        visitor: `visitor-${Math.floor(session / 1.5)}`,
        session: `s${session}`,
        at: at + view * 1000,
        kind: 'page',
        address: `https://site.example/${random.chance(0.02) ? 'done' : 'other'}`,
        circumstances: [],
      }
      visits.add(step)
    }
  }
  visits.blocks()
  return visits
}

/** A metric by day, and how it stood around each of many marks. */
export async function measureHistory(): Promise<Measurement[]> {
  const visits = manyDays()
  const starts = Array.from({ length: DAYS }, (_, day) => day)
  const marks = Array.from({ length: MARKS }, (_, mark) => NAMES[Math.floor((mark / MARKS) * DAYS)]!)
  const read = () => {
    const selected = selectSessions(visits, { from: START, until: MOMENTS[DAYS]!, segment: [], page: null })
    const [series] = overTime(visits, selected, { days: MOMENTS, starts }, null, CONVERTED)
    const values = series!.converted.map((count, day) => ({ day: NAMES[day]!, value: count / series!.visitors[day]! }))
    return marks.map((day) => aroundDay(values, day))
  }
  const told = read().filter((each) => each !== null).length
  if (told < MARKS / 2) throw new Error(`Only ${told} of ${MARKS} marks could be told.`)
  const value = await medianMilliseconds(9, read)
  const reference = await medianMilliseconds(9, () => {
    let views = 0
    for (const { count, kind } of visits.blocks())
      for (let row = 0; row < count; row++) if (kind[row] === KIND.page) views++
    return views
  })
  return [
    {
      name: 'history',
      value: rounded(value),
      unit: `ms for a metric over ${DAYS} days with ${MARKS} marks, ${(SESSIONS * VIEWS_A_SESSION).toLocaleString('en-US')} page views`,
      aim: 'under 50 ms',
      reference: {
        what: 'looking at every step once, ms',
        value: rounded(reference),
        ratio: rounded(value / reference),
      },
    },
  ]
}
