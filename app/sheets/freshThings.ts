import type { MetricSource } from '~~/core/measurement/metric'
import type { PageRule } from '~~/core/targeting/pageRule'
import type { SheetMetric, SheetPageRule } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'
import type { FreshThing } from './sheetWork'

/** A metric that joins a sheet; without an id, it is new to the site. */
export type ChosenMetric = Pick<
  SheetMetric,
  'name' | 'kind' | 'source' | 'denominator' | 'cap' | 'windowDays' | 'direction'
> & {
  id: string | null
}

export function blankPageRule(): SheetPageRule {
  return { id: drawThingId(), match: 'exact', value: '' }
}

export function blankMetric(role: SheetMetric['role']): SheetMetric {
  return {
    id: drawThingId(),
    name: '',
    kind: 'conversion',
    direction: 'up',
    source: { type: 'visit', page: { match: 'exact', value: '' } },
    denominator: null,
    cap: null,
    windowDays: null,
    role,
    limit: null,
  }
}

/** Whether something was written into a new thing. */
export function isBegun({ list, item }: FreshThing): boolean {
  if (list.part === 'pageRules') return (item as SheetPageRule).value !== '' || !!(item as SheetPageRule).part
  const { name, source } = item as SheetMetric
  return name !== '' || isFilled(source)
}

/** Whether every field of a new thing is filled; what they say is checked when it is saved. */
export function isComplete({ list, item }: FreshThing): boolean {
  if (list.part === 'pageRules') return isFilledRule(item as SheetPageRule)
  return isCompleteMetric(item as SheetMetric)
}

function isFilledRule({ value, match, part, parameter }: PageRule): boolean {
  return (value.trim() !== '' || match === 'present') && (part !== 'parameter' || !!parameter?.trim())
}

export function isCompleteMetric({ name, source, denominator }: SheetMetric): boolean {
  return name.trim() !== '' && isFilled(source) && (!denominator || isFilled(denominator))
}

function isFilled(source: MetricSource): boolean {
  return (
    (!('page' in source) || !source.page || isFilledRule(source.page)) &&
    (!('selector' in source) || source.selector !== '') &&
    (source.type !== 'pageAmount' || !Object.values(source.reference ?? {}).includes('')) &&
    (source.type !== 'event' || source.name !== '')
  )
}
