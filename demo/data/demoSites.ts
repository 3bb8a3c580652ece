import { CROSSINGS_POPULATION, KIOSK_POPULATION, type Population } from '../visitors/population'
import { crossingsFindings, type DemoFinding } from './findings'
import { CROSSINGS_NOTES } from './dayNotes'
import { CROSSINGS_FUNNELS } from './funnels'
import { CROSSINGS_HYPOTHESES, type DemoHypothesis } from './hypotheses'
import { CROSSINGS_SURVEY } from './survey'
import { CROSSINGS_EXPERIMENTS, KIOSK_EXPERIMENTS, type DemoExperiment } from './experiments'

/** Twelve weeks. */
export const DEMO_DAYS = 84

/** A site of the demo, and who comes to it. Where it answers is known only when it is started. */
interface DemoSite {
  name: string
  visitors: number
  population: Population
  experiments: readonly DemoExperiment[]
  seed: number
  /** Of whose visitors behavior is told, in buckets of 10,000. */
  behaviorShare: number
  /** What its pages say of their events. */
  eventDetails: string[]
  funnels: typeof CROSSINGS_FUNNELS
  notes: typeof CROSSINGS_NOTES
  survey: typeof CROSSINGS_SURVEY | null
  findings: (survey: number | null) => readonly DemoFinding[]
  hypotheses: readonly DemoHypothesis[]
}

export const DEMO_SITES: readonly DemoSite[] = [
  {
    name: 'Kittiwake Crossings',
    visitors: 60_000,
    population: CROSSINGS_POPULATION,
    experiments: CROSSINGS_EXPERIMENTS,
    seed: 20260402,
    behaviorShare: 3000,
    eventDetails: [],
    funnels: CROSSINGS_FUNNELS,
    notes: CROSSINGS_NOTES,
    survey: CROSSINGS_SURVEY,
    findings: crossingsFindings,
    hypotheses: CROSSINGS_HYPOTHESES,
  },
  {
    name: 'Kittiwake Ticket Kiosk',
    visitors: 7000,
    population: KIOSK_POPULATION,
    experiments: KIOSK_EXPERIMENTS,
    seed: 20260403,
    behaviorShare: 0,
    eventDetails: ['crossing', 'adults', 'children'],
    funnels: [],
    notes: [],
    survey: null,
    findings: () => [],
    hypotheses: [],
  },
]
