import type { ChartOption } from './chartFile'
import type { ChartTokens } from './chartTokens'
import { dayAxis, shortDay } from './dayAxis'
import { dayMarkers, STILL_LINE, type DayMarker } from './dayMarkers'
import { variantShape } from './variantShapes'
import { symmetricDomain } from '../composables/readings'
import { formatLift } from '../../shared/formats'

/** A lift with its interval, on a day. */
export interface DayLift {
  day: string
  lift: number | null
  interval: readonly [number, number] | null
}

export interface LiftChart {
  lifts: readonly DayLift[]
  /** Position of the variant. */
  position: number
  name: string
  /** Lift from which on the plan calls it worthwhile, with its sign. */
  worthwhile: number
  markers?: readonly DayMarker[]
}

/**
 * The lift of one variant day by day, as a line in the band of its interval. The band is cut off where it is far wider
 * than most days are, as it is in the first ones.
 */
export function liftChart(
  { lifts, position, name, worthwhile, markers = [] }: LiftChart,
  tokens: ChartTokens,
): ChartOption {
  const days = dayAxis([...lifts.map(({ day }) => day), ...markers.map(({ day }) => day)])
  const byDay = new Map(lifts.map((each) => [each.day, each]))
  const [low, high] = domainOf(lifts, worthwhile)
  const color = tokens.variant(position)
  const at = (pick: (each: DayLift) => number | null) =>
    days.map((day) => {
      const own = byDay.get(day)
      return own ? pick(own) : null
    })
  const clipped = (value: number) => Math.min(Math.max(value, low), high)
  const band = { type: 'line', stack: 'interval', stackStrategy: 'all', symbol: 'none', silent: true } as const
  return {
    tooltip: { trigger: 'axis', formatter: (items) => told(byDay, days, items) },
    xAxis: { type: 'category', data: days, boundaryGap: false, axisLabel: { formatter: shortDay } },
    yAxis: {
      type: 'value',
      min: low,
      max: high,
      name: 'lift',
      nameTextStyle: { align: 'left' },
      axisLabel: { formatter: (value: number) => formatLift(value, 0), showMinLabel: false, showMaxLabel: false },
    },
    series: [
      { ...band, lineStyle: { opacity: 0 }, data: at(({ interval }) => interval && clipped(interval[0])) },
      {
        ...band,
        lineStyle: { opacity: 0 },
        areaStyle: { color, opacity: 0.18 },
        data: at(({ interval }) => interval && clipped(interval[1]) - clipped(interval[0])),
      },
      {
        type: 'line',
        name,
        data: at(({ lift }) => lift),
        symbol: `path://${variantShape(position)}`,
        showSymbol: days.length <= 45,
        itemStyle: { color },
        lineStyle: { color },
        endLabel: {
          show: true,
          formatter: ({ value }) => (typeof value === 'number' ? formatLift(value) : ''),
          color: tokens.ink,
          distance: 6,
        },
        markLine: {
          ...STILL_LINE,
          data: [
            { yAxis: 0, lineStyle: { color: tokens.ink, type: 'solid', width: 1.5 }, label: { show: false } },
            {
              yAxis: worthwhile,
              lineStyle: { color: tokens.inkSoft, type: 'dashed' },
              label: {
                formatter: 'worthwhile',
                position: 'insideStartTop',
                color: tokens.inkSoft,
                fontSize: 12,
              },
            },
            ...dayMarkers(markers, tokens),
          ],
        },
      },
    ],
  }
}

/** Room for the intervals of the last third of the days, which are read; those of the first may run out of it. */
function domainOf(lifts: readonly DayLift[], worthwhile: number): [number, number] {
  const late = lifts.slice(Math.floor((lifts.length * 2) / 3)).flatMap(({ interval }) => interval ?? [])
  return symmetricDomain(late.map(Math.abs), 2 * Math.abs(worthwhile))
}

/** What a day says, for whoever points at it. */
function told(byDay: ReadonlyMap<string, DayLift>, days: readonly string[], items: unknown): string {
  const [first] = Array.isArray(items) ? (items as { dataIndex: number }[]) : []
  const day = first && days[first.dataIndex]
  if (!day) return ''
  const own = byDay.get(day)
  if (!own) return `${shortDay(day)}\nno visitors`
  const interval = own.interval ? `${formatLift(own.interval[0])} to ${formatLift(own.interval[1])}` : 'no interval yet'
  return `${shortDay(day)}\n${formatLift(own.lift)}\n${interval}`
}
