import { jsonText } from './jsonText'
import { testsIn, type Condition, type FactTest } from '../../core/targeting/condition'
import type { VisitorFacts } from '../../core/targeting/visitorFacts'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { tellChange } from './factChanges'
import { testsOf } from './rememberedVisitor'
import { guarded, safely } from './safely'

const PLACE = 'vetch_place'

type Place = Pick<VisitorFacts, 'country' | 'region' | 'city'>
type Answered = Record<keyof Place, string | null>

/** null until it has been looked up. */
let place: Place | null = null
let isPlaceAwaited = false

/** Whether a condition cannot be decided yet, since it asks for the place. */
export const waitsForPlace = (audience: Condition) => isPlaceAwaited && testsIn(audience).some(asksPlace)

const asksPlace = ({ fact }: FactTest) => fact === 'country' || fact === 'region' || fact === 'city'

/** The place, looked up once in a session of the browser, and only where a condition asks for it. */
export function placeOf(siteFile: SiteFile, base: string): Place {
  if (!testsOf(siteFile).some(asksPlace)) return {}
  place ??= safely(() => known(JSON.parse(sessionStorage.getItem(PLACE) ?? '') as Answered)) ?? null
  if (place || isPlaceAwaited) return place ?? {}
  isPlaceAwaited = true
  const settle = (found: Place) => {
    place = found
    isPlaceAwaited = false
    tellChange()
  }
  fetch(`${base}/place?key=${siteFile.key}`)
    .then((reply) => (reply.ok ? (reply.json() as Promise<Answered>) : Promise.reject(new Error(reply.statusText))))
    .then((answer) => {
      safely(() => sessionStorage.setItem(PLACE, jsonText(answer)))
      settle(known(answer))
    })
    .catch(guarded(() => settle({})))
  return {}
}

/** Without what the lookup files do not know. */
function known(answer: Answered): Place {
  return Object.fromEntries(Object.entries(answer).filter(([, value]) => value !== null))
}

/** With withdrawn consent. */
export function forgetPlace(): void {
  place = null
  safely(() => sessionStorage.removeItem(PLACE))
}
