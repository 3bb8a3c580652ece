import type { EvidenceChoices } from '~~/shared/evidence/replies'
import { readSegment, type PartName, type SegmentText } from '~~/shared/evidence/filter'

const NAMES: Record<string, string> = {
  device: 'Device',
  system: 'Operating system',
  browser: 'Browser',
  country: 'Country',
  region: 'Region',
  city: 'City',
  language: 'Language',
  source: 'Source',
  medium: 'Campaign medium',
  campaign: 'Campaign',
  term: 'Campaign term',
  content: 'Campaign content',
  timeZone: 'Time zone',
  visitor: 'New or returning',
  landing: 'First page',
  attribute: 'Attribute',
  converted: 'Converted',
  unconverted: 'Not converted',
  variant: 'Variant',
  week: 'Week of the run',
  weekday: 'Weekday or weekend',
  since: 'Days since the first exposure',
}

/** What a person calls a dimension that visitors are told apart by. */
export function segmentName(dimension: string): string {
  return NAMES[dimension] ?? dimension
}

/** A part of a segment in words: metrics and variants by their names. */
export function partInWords({ name, value }: SegmentText, choices: EvidenceChoices | null): string {
  if (name === 'variant') {
    const found = choices?.variants.find((each) => `${each.experimentId}.${each.position}` === value)
    return found ? `saw ${found.variant} of ${found.experiment}` : `saw variant ${value}`
  }
  if (name === 'converted' || name === 'unconverted') {
    const metric = choices?.metrics.find(({ id }) => id === value)?.name ?? 'a metric'
    return name === 'converted' ? `reached ${metric}` : `did not reach ${metric}`
  }
  if (name === 'attribute') return value.replace('=', ': ')
  return `${segmentName(name).toLowerCase()}: ${value}`
}

/** A segment in words; everybody without one. */
export function segmentInWords(text: string | undefined, choices: EvidenceChoices | null): string {
  const parts = text ? (readSegment(text) ?? []) : []
  return parts.length === 0 ? 'everybody' : parts.map((part) => partInWords(part, choices)).join(', ')
}

/** Values of a part that can be chosen, with what they are called. */
export function valuesOf(name: PartName, choices: EvidenceChoices): { value: string; label: string }[] {
  if (name === 'variant')
    return choices.variants.map(({ experimentId, position, experiment, variant }) => ({
      value: `${experimentId}.${position}`,
      label: `${experiment}: ${variant}`,
    }))
  if (name === 'attribute') return choices.attributes.map((value) => ({ value, label: value.replace('=', ': ') }))
  if (name === 'converted' || name === 'unconverted')
    return choices.metrics.map(({ id, name: label }) => ({ value: id, label }))
  const { values } = choices.dimensions.find(({ dimension }) => dimension === name)!
  return values.map((value) => ({ value, label: value }))
}
