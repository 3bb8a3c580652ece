import { describeElement } from '~~/core/edits/element'
import { selectorProblem } from '~~/core/measurement/elementPath'
import type { MetricSource } from '~~/core/measurement/metric'
import { parseAmount } from '~~/core/measurement/parseAmount'
import { formatNumber } from '~~/shared/formats'
import type { PointedElement } from '~~/shared/edits/pointing'

/** Something about an element that can be counted, under the name that the metric gets. */
export interface CountableThing {
  name: string
  label: string
  kind: 'conversion' | 'mean'
  source: MetricSource
}

/** Longer texts with digits in them are no amounts. */
const LONGEST_AMOUNT = 40

/**
 * What can be counted about an element that was pointed at: clicks on it, a form that is sent, the page that a link
 * leads to, the amount that it shows.
 *
 * @param siteAddress - origin of the page: pages elsewhere are not counted
 * @param page - path of the page that it is on
 */
export function countableThings(element: PointedElement, siteAddress: string, page: string): CountableThing[] {
  const { selector, tag, text } = element
  const words = describeElement(element)
  const things: CountableThing[] = []
  if (selectorProblem(selector) === null)
    things.push(
      tag === 'form'
        ? {
            name: `Sent: ${words}`,
            label: 'This form is sent',
            kind: 'conversion',
            source: { type: 'submit', selector },
          }
        : {
            name: `Clicks: ${words}`,
            label: 'Clicks on it',
            kind: 'conversion',
            source: { type: 'click', selector },
          },
    )
  const path = tag === 'a' ? ownPath(element.attributes.href, siteAddress) : null
  if (path !== null)
    things.push({
      name: `Reached: ${path}`,
      label: `Visitors reach ${path}`,
      kind: 'conversion',
      source: { type: 'visit', page: { match: 'exact', value: path } },
    })
  const shown = text.trim()
  const amount = shown.length <= LONGEST_AMOUNT ? parseAmount(shown) : null
  if (amount !== null)
    things.push({
      name: `Amount: ${words}`,
      label: `The amount in it, now ${formatNumber(amount)}, of each visitor who comes to ${page}`,
      kind: 'mean',
      source: { type: 'pageAmount', page: { match: 'exact', value: page }, selector, reference: null },
    })
  return things.map((thing) => ({ ...thing, name: thing.name.slice(0, 100) }))
}

function ownPath(href: string | undefined, siteAddress: string): string | null {
  if (href === undefined || !URL.canParse(href, siteAddress)) return null
  const { origin, pathname } = new URL(href, siteAddress)
  return origin === new URL(siteAddress).origin ? pathname : null
}
