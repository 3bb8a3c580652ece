import { isWithin } from '../measurement/elementPath'
import type { MetricSource } from '../measurement/metric'
import { matchesPageRule } from '../targeting/pageRule'
import { KIND, type Block, type Visits } from './visits'

/** What is counted in visits: the same as metrics count, in each of them. */
export type CountedSource = MetricSource

/** Whether a step of a block is one. */
export type IsCounted = (block: Block, row: number) => boolean

/**
 * A test for what a source counts, as `isCounted` of `core/measurement` defines it. What it asks of addresses, elements
 * and names is answered once for each of them: a step then costs a lookup.
 */
export function countedSteps(visits: Visits, source: CountedSource): IsCounted {
  switch (source.type) {
    case 'visit': {
      const isPage = visits.addresses.table((address) => matchesPageRule(source.page, address))
      return (block, row) => block.kind[row] === KIND.page && isPage[block.address[row]!] === 1
    }
    case 'click':
    case 'submit': {
      const kind = KIND[source.type]
      const isElement = visits.elements.table((element) => isWithin(element, source.selector))
      return (block, row) => block.kind[row] === kind && isElement[block.element[row]!] === 1
    }
    case 'pageAmount': {
      const name = visits.names.find(source.selector) ?? -1
      const isPage = visits.addresses.table((address) => matchesPageRule(source.page, address))
      return (block, row) =>
        block.kind[row] === KIND.amount &&
        block.isRepeat[row] === 0 &&
        block.name[row] === name &&
        isPage[block.address[row]!] === 1
    }
    case 'event': {
      const name = visits.names.find(source.name) ?? -1
      return (block, row) => block.kind[row] === KIND.custom && block.isRepeat[row] === 0 && block.name[row] === name
    }
  }
}
