import { isOfElement, type Edit } from '../edits/content'
import { describeElement } from '../edits/element'
import type { Purpose } from '../sheet/content'
import type { MetricSource } from '../measurement/metric'
import type { PreflightFinding } from './preflight'

/** Another experiment that is running on the site. */
export interface RunningBeside {
  name: string
  variants: readonly { edits: readonly Edit[] }[]
  /** Visitors of the last four weeks who saw pages of both. */
  sharedVisitors: number
  /** Whether both run on one and the same page. */
  sharesPage: boolean
}

/** What a metric counted of the visitors that were looked at. */
export interface CountedLately {
  name: string
  /** Visitors it was computed for, and how many of them had a value. */
  visitors: number
  counted: number
}

/** Details that metrics ask for and the site does not keep: such a metric counts nothing. */
export function unkeptDetailFindings(
  metrics: readonly { name: string; source: MetricSource; denominator?: MetricSource | null }[],
  kept: readonly string[],
): PreflightFinding[] {
  return metrics.flatMap(({ name, source, denominator }) =>
    [source, denominator].flatMap((counted): PreflightFinding[] => {
      const detail = counted?.type === 'event' ? counted.detail : null
      if (!detail || kept.includes(detail.name)) return []
      const text = `“${name}” asks events for “${detail.name}”, which the site does not keep. List it under Details of events to keep, in Setup.`
      return [{ section: 'measured', isStop: false, text }]
    }),
  )
}

/** What is served on the pages of a draft, and is on the control as well. */
export interface RolledOutHere {
  name: string
  edits: readonly Edit[]
}

const elementsOf = (variants: readonly { edits: readonly Edit[] }[]) =>
  variants.flatMap(({ edits }) => edits.filter(({ isOff }) => !isOff).filter(isOfElement))

/** Elements of a draft that are changed for everybody already: the control is not the page that was pointed at. */
export function rolloutFindings(
  own: readonly { edits: readonly Edit[] }[],
  rolledOut: readonly RolledOutHere[],
): PreflightFinding[] {
  const mine = new Set(elementsOf(own).map(({ selector }) => selector))
  return rolledOut.flatMap((served): PreflightFinding[] => {
    const same = elementsOf([served]).find(({ selector }) => mine.has(selector))
    if (!same) return []
    const text = `“${served.name}” is served on these pages and changes the same element, ${describeElement(same)}. The control shows that; to compare with the page without it, stop that first.`
    return [{ section: 'what', isStop: false, text }]
  })
}

/** What the traffic of the last four weeks says of a draft: nobody there, nothing to count, others on the same pages. */
export function trafficFindings(
  visitors: number,
  metrics: readonly CountedLately[],
  own: readonly { edits: readonly Edit[] }[],
  beside: readonly RunningBeside[],
  purpose: Purpose = 'test',
): PreflightFinding[] {
  const findings: PreflightFinding[] = []
  if (visitors === 0)
    findings.push({
      section: 'who',
      isStop: false,
      text: 'No visitor saw these pages in the last four weeks. Check the addresses, or that the script line is on them.',
    })
  for (const { name, visitors: of, counted } of metrics) {
    if (of > 0 && counted === 0)
      findings.push({
        section: 'measured',
        isStop: false,
        text: `“${name}” counted nothing of ${of.toLocaleString('en-US')} visitors of these pages in the last four weeks. Check what it counts.`,
      })
  }
  const mine = new Set(elementsOf(own).map(({ selector }) => selector))
  const others: string[] = []
  for (const { name, variants, sharedVisitors, sharesPage } of beside) {
    if (sharedVisitors === 0) continue
    const shared = sharedVisitors.toLocaleString('en-US')
    // Like selectors of two pages find two elements.
    const same = sharesPage ? elementsOf(variants).find(({ selector }) => mine.has(selector)) : null
    if (same)
      findings.push({
        section: 'what',
        isStop: true,
        text: `“${name}” is running and changes the same element, ${describeElement(same)}; ${shared} visitors of the last four weeks saw pages of both. ${purpose === 'serve' ? 'Leave its visitors to it under “Tests beside it”, or change another element.' : 'End it first, or change another element.'}`,
      })
    else others.push(`“${name}” (${shared})`)
  }
  if (others.length > 0)
    findings.push({
      section: 'who',
      isStop: false,
      text: `Visitors of these pages also take part in ${others.join(', ')}: as many as saw pages of both in the last four weeks. Each is assigned by itself, which adds noise and no bias.`,
    })
  return findings
}
