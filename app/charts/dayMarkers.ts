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
