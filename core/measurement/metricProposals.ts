import type { MetricDefinition, MetricSource } from './metric'

/** What arrives at a site, as far as it suggests metrics. */
export interface ArrivedKinds {
  /** Events from the pages' code, the most frequent first. */
  events: readonly { name: string; visitors: number; hasAmounts: boolean }[]
  /** Amounts that were read off pages, by their selector. */
  amounts: readonly { selector: string; page: string; visitors: number }[]
  /** Forms that were sent, by a selector that finds them. */
  forms: readonly { selector: string; visitors: number }[]
  /** Pages by path, with the visitors who saw them. */
  pages: readonly { path: string; visitors: number }[]
}

export interface ProposedMetric extends Required<MetricDefinition> {
  name: string
  /** What is better. */
  direction: 'up' | 'down'
  /** Why it is proposed, in a sentence. */
  reason: string
}

/** Fewer visitors than these make no metric. */
const FEWEST = 10
const MOST_OF_A_KIND = 5
/** How sites call the page that follows something that was done. */
const AFTERWARDS = /(^|[/_-])(done|thanks?|thank-you|success|confirm(ed|ation)?|complete[d]?|receipt)([/_.-]|$)/i

/**
 * Metrics that what arrives suggests, beside those that every site can have. The most promising ones first; what the
 * site measures already is left out.
 *
 * @param known - definitions of the site's metrics
 */
export function metricProposals(arrived: ArrivedKinds, known: readonly MetricDefinition[]): ProposedMetric[] {
  const taken = new Set(known.map(keyOf))
  return [
    ...reached(arrived),
    ...sentAmounts(arrived),
    ...namedEvents(arrived),
    ...sentForms(arrived),
    ...READY_MADE,
  ].filter((proposal) => !taken.has(keyOf(proposal)))
}

/** What every site can measure. */
const READY_MADE: readonly ProposedMetric[] = [
  {
    ...definition('conversion', { type: 'engagement' }),
    name: 'Engagement',
    reason: 'Every site has it: who clicks a link or sends a form on the tested pages.',
  },
  {
    ...definition('ratio', { type: 'bounces' }, { type: 'visits' }),
    direction: 'down',
    name: 'Bounce rate',
    reason: 'Every site has it: the share of visits that see one page.',
  },
  {
    ...definition('ratio', { type: 'visit', page: { match: 'begins', value: '/' } }, { type: 'visits' }),
    name: 'Pages a visit',
    reason: 'Every site has it: how much is looked at.',
  },
  {
    ...definition('mean', { type: 'timeInView' }),
    name: 'Time in view',
    reason: 'Seconds in which a visitor had pages before them, where reading is collected.',
  },
  {
    ...definition('ratio', { type: 'visitTime' }, { type: 'visits' }),
    name: 'How long a visit lasts',
    reason: 'Every site has it: seconds from the first page of a visit to its last.',
  },
  {
    ...definition('conversion', { type: 'return', days: 7 }),
    name: 'Came back within 7 days',
    reason: 'Every site has it: who comes for another visit.',
  },
  {
    ...definition('conversion', { type: 'submit', selector: 'form' }),
    name: 'Sent a form',
    reason: 'Every site has it: who sends any form.',
  },
  {
    ...definition('mean', { type: 'error' }),
    direction: 'down',
    name: 'Errors of pages',
    reason: 'Every site has it: what goes wrong in a visitor’s browser.',
  },
]

function reached({ pages }: ArrivedKinds): ProposedMetric[] {
  return pages
    .filter(({ path, visitors }) => visitors >= FEWEST && AFTERWARDS.test(path))
    .slice(0, MOST_OF_A_KIND)
    .map(({ path, visitors }) => ({
      ...definition('conversion', { type: 'visit', page: { match: 'exact', value: path } }),
      name: `Reached ${path}`,
      reason: `${count(visitors)} reached ${path}, which looks like a page after something was done.`,
    }))
}

function sentAmounts({ amounts }: ArrivedKinds): ProposedMetric[] {
  return amounts
    .filter(({ visitors }) => visitors >= FEWEST)
    .slice(0, MOST_OF_A_KIND)
    .map(({ selector, page, visitors }) => ({
      ...definition('mean', { type: 'pageAmount', page: { match: 'exact', value: page }, selector, reference: null }),
      name: `Amount in ${selector}`,
      reason: `${count(visitors)} saw an amount in ${selector} on ${page}.`,
    }))
}

function namedEvents({ events }: ArrivedKinds): ProposedMetric[] {
  return events
    .filter(({ visitors }) => visitors >= FEWEST)
    .slice(0, MOST_OF_A_KIND)
    .flatMap(({ name, visitors, hasAmounts }): ProposedMetric[] => {
      const source: MetricSource = { type: 'event', name }
      const sent = `The pages sent “${name}” of ${count(visitors)}`
      return [
        { ...definition('conversion', source), name: `Did “${name}”`, reason: `${sent}.` },
        ...(hasAmounts
          ? [{ ...definition('mean', source), name: `Amount of “${name}”`, reason: `${sent}, with amounts.` }]
          : []),
      ]
    })
}

function sentForms({ forms }: ArrivedKinds): ProposedMetric[] {
  return forms
    .filter(({ visitors }) => visitors >= FEWEST)
    .slice(0, MOST_OF_A_KIND)
    .map(({ selector, visitors }) => ({
      ...definition('conversion', { type: 'submit', selector }),
      name: `Sent ${selector}`,
      reason: `${count(visitors)} sent the form ${selector}.`,
    }))
}

function definition(kind: MetricDefinition['kind'], source: MetricSource, denominator: MetricSource | null = null) {
  return { kind, source, denominator, cap: null, windowDays: null, direction: 'up' as const }
}

function count(visitors: number): string {
  return `${visitors.toLocaleString('en-US')} visitors`
}

/** Where the number of an order stands, and a cap, make no other metric. */
function keyOf({ kind, source, denominator }: MetricDefinition): string {
  return JSON.stringify([kind, sourceKey(source), denominator ? sourceKey(denominator) : null])
}

function sourceKey(source: MetricSource) {
  const page = 'page' in source ? source.page : null
  const rest = 'selector' in source ? source.selector : 'name' in source ? source.name : ''
  const days = source.type === 'return' ? source.days : null
  return [source.type, page?.match, page?.value, rest, days]
}
