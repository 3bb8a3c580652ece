import { describeSource, type MetricSource } from '~~/core/measurement/metric'
import type { FunnelInput } from '~~/shared/evidence/funnel'

export const STEP_TYPES = [
  { value: 'visit', label: 'a page' },
  { value: 'click', label: 'a click' },
  { value: 'submit', label: 'a sent form' },
  { value: 'event', label: 'an event' },
  { value: 'metric', label: 'what a metric counts' },
] as const
export type StepType = (typeof STEP_TYPES)[number]['value']

/** A step with nothing in it yet. */
export function newStep(type: Exclude<StepType, 'metric'>): FunnelInput['steps'][number] {
  const sources: Record<typeof type, MetricSource> = {
    visit: { type: 'visit', page: { match: 'exact', value: '' } },
    click: { type: 'click', selector: '' },
    submit: { type: 'submit', selector: '' },
    event: { type: 'event', name: '' },
  }
  return { name: '', source: sources[type] }
}

/** What a source is as a step; with pages of its own it is what a metric counts. */
export function plainType(source: MetricSource): StepType {
  const isPlain = source.type === 'visit' || !('page' in source && source.page)
  return (isPlain && STEP_TYPES.find(({ value }) => value === source.type)?.value) || 'metric'
}

/** What a step is called where nobody has named it. */
export function stepName(source: MetricSource): string {
  if (source.type === 'visit') return source.page.value || 'a page'
  return describeSource(source).slice(0, 60)
}

/** The plan as it goes into the address of the view; names are filled in. */
export function planText(plan: FunnelInput): string {
  return JSON.stringify(plan)
}

export const EMPTY_PLAN: FunnelInput = {
  steps: [newStep('visit'), newStep('visit')],
  isStrict: false,
  limitMinutes: null,
  isWithinSession: true,
}
