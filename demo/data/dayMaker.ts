import { timeOfId } from '../../core/identity/timeOrderedId'
import { openPlaces, type FindPlace } from '../../server/intake/place'
import { BEHAVIOR_SALT } from '../../shared/delivery/siteFile'
import { copyText } from './copyArrivals'
import { DEMO_DAYS, DEMO_SITES } from './demoSites'
import type { DaysWanted, MovedSplit, SimulatedDay } from './simulatedDays'
import { simulateHistory, type PastExperiment, type SimulatedVisit } from './simulateHistory'
import { visitArrival } from './visitArrival'

/** Makes days on demand for the process that has started this one. */
let days: Generator<SimulatedDay> | undefined
const experiments: PastExperiment[] = []
process.on('message', async (message: DaysWanted | MovedSplit[]) => {
  if (Array.isArray(message)) for (const each of message) draw(each)
  else {
    experiments.push(...message.sites.flatMap((site) => site.experiments))
    days = makeDays(message, await openPlaces({ country: '', city: '', hasMadeUp: true }))
  }
  process.send!(days!.next().value ?? null)
})

/** From now on new visitors are drawn by other weights. */
function draw({ experiment, period, weights }: MovedSplit): void {
  const own = experiments.find(({ id }) => id === experiment)
  if (own) Object.assign(own, { period, weights })
}

function* makeDays({ sites, until }: DaysWanted, findPlace: FindPlace): Generator<SimulatedDay, undefined> {
  const histories = sites.map(({ index, origin, experiments, rollouts, survey }) => {
    const { population, visitors, seed, behaviorShare: share } = DEMO_SITES[index]!
    const behavior = { salt: BEHAVIOR_SALT, share }
    const whom = { origin, population, visitors, seed, until, days: DEMO_DAYS }
    return simulateHistory({ ...whom, experiments, rollouts, behavior, survey })
  })
  for (;;) {
    const visits = histories.map((history) => history.next().value as SimulatedVisit[] | undefined)
    if (visits.every((own) => own === undefined)) return
    const arrivals = visits.flatMap((own, index) =>
      (own ?? []).map((visit) => visitArrival(visit, sites[index]!.intake, findPlace)),
    )
    yield { text: copyText(arrivals), lastMoment: lastMoment(visits.flatMap((own) => own ?? [])) }
  }
}

function lastMoment(visits: readonly SimulatedVisit[]): number {
  return visits.reduce((latest, { pages: [first] }) => Math.max(latest, first ? timeOfId(first.view.id) : 0), 0)
}
