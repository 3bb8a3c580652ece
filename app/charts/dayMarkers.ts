import type { ChartTokens } from './chartTokens'

/** Something that happened on a day, told in the charts of that time. */
export interface DayMarker {
  day: string
  text: string
}

/** Markers as upright lines with their words. */
export function dayMarkers(markers: readonly DayMarker[], { lineStrong, inkSoft }: ChartTokens) {
  return markers.map(({ day, text }) => ({
    xAxis: day,
    lineStyle: { color: lineStrong, type: 'dotted' as const },
    label: { formatter: text, color: inkSoft, fontSize: 12 },
  }))
}

/** A line through a chart that nobody can point at. */
export const STILL_LINE = { silent: true, symbol: 'none', animation: false } as const

/** Markers of days where there is only room for periods: those of one stand together. */
export function markersByPeriod(markers: readonly DayMarker[], periods: readonly string[]): DayMarker[] {
  const texts = new Map<string, Set<string>>()
  for (const { day, text } of markers) {
    const period = periods.findLast((start) => start <= day)
    if (period === undefined) continue
    const own = texts.get(period) ?? new Set()
    for (const sign of text) own.add(sign)
    texts.set(period, own)
  }
  return [...texts].map(([day, signs]) => ({ day, text: [...signs].join('') }))
}
