import { describeElement } from '~~/core/edits/element'
import { selectorProblem } from '~~/core/measurement/elementPath'
import type { MetricSource } from '~~/core/measurement/metric'
import type { PointedElement } from '~~/shared/pointing'

/** Something about an element that can be counted, under the name that the metric gets. */
export interface CountableThing {
  name: string
  label: string
  source: MetricSource
}

/**
 * What can be counted about an element that was pointed at: clicks on it, a form that is sent, the page that a link
 * leads to.
 *
 * @param siteAddress - origin of the page: pages elsewhere are not counted
 */
export function countableThings(element: PointedElement, siteAddress: string): CountableThing[] {
  const { selector, tag } = element
  const words = describeElement(element)
  const things: CountableThing[] = []
  if (selectorProblem(selector) === null)
    things.push(
      tag === 'form'
        ? { name: `Sent: ${words}`, label: 'This form is sent', source: { type: 'submit', selector } }
        : { name: `Clicks: ${words}`, label: 'Clicks on it', source: { type: 'click', selector } },
    )
  const path = tag === 'a' ? ownPath(element.attributes.href, siteAddress) : null
  if (path !== null)
    things.push({
      name: `Reached: ${path}`,
      label: `Visitors reach ${path}`,
      source: { type: 'visit', page: { match: 'exact', value: path } },
    })
  return things.map((thing) => ({ ...thing, name: thing.name.slice(0, 100) }))
}

function ownPath(href: string | undefined, siteAddress: string): string | null {
  if (href === undefined || !URL.canParse(href, siteAddress)) return null
  const { origin, pathname } = new URL(href, siteAddress)
  return origin === new URL(siteAddress).origin ? pathname : null
}
