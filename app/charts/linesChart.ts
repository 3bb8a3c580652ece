import type { ChartOption } from './chartFile'
import type { ChartTokens } from './chartTokens'
import { dayAxis, shortDay } from './dayAxis'
import { dayMarkers, STILL_LINE, type DayMarker } from './dayMarkers'
import type { Level } from './levels'
import { variantShape } from './variantShapes'

export interface Line {
  name: string
  /** What stands at its end, in the place of a legend; its last value where this is empty. */
  label: string
  /** Position of the variant that it is of; the accent's color where it is of none. */
  position: number | null
  values: readonly { day: string; value: number | null }[]
}

export interface LinesChart {
  lines: readonly Line[]
  /** What is counted, in its unit. */
  unit: string
  format: (value: number) => string
  /** The day that is not over, or the period: what it has brought so far is drawn apart. */
  unfinished?: string
  /** First days of periods, in their order, where there is a value for each of them and not for each day. */
  periods?: readonly string[]
  markers?: readonly DayMarker[]
  levels?: readonly Level[]
}

/**
 * Counts day by day from zero on, a line each, named where it ends. Days without anything are gaps; to a day that is not
 * over leads a broken line.
 */
export function linesChart(
  { lines, unit, format, unfinished, periods, markers = [], levels = [] }: LinesChart,
  tokens: ChartTokens,
): ChartOption {
  const days = periods
    ? [...periods]
    : dayAxis([...lines.flatMap(({ values }) => values.map(({ day }) => day)), ...markers.map(({ day }) => day)])
  const shifts = shiftsOfLabels(lines, days.at(-1))
  return {
    tooltip: {
      trigger: 'axis',
      formatter: (items) => told(days, lines, format, unfinished, items),
    },
    xAxis: { type: 'category', data: days, boundaryGap: false, axisLabel: { formatter: shortDay } },
    yAxis: {
      type: 'value',
      min: 0,
      // Of what is counted there are no parts.
      minInterval: lines.every(({ values }) => values.every(({ value }) => Number.isInteger(value ?? 0))) ? 1 : 0,
      name: unit,
      nameTextStyle: { align: 'left' },
      axisLabel: { formatter: (value: number) => format(value) },
    },
    series: [
      ...levels.map((level) => levelSeries(level, days, tokens)),
      ...lines.flatMap(({ name, label, position, values }, index) => {
        const byDay = new Map(values.map(({ day, value }) => [day, value]))
        const all = days.map((day) => byDay.get(day) ?? null)
        const isSoFar = days.at(-1) === unfinished
        const color = position === null ? tokens.accent : tokens.variant(position)
        const end = all.at(-1)
        const line = {
          type: 'line' as const,
          name,
          symbol: position === null ? 'circle' : `path://${variantShape(position)}`,
          symbolSize: position === null ? 5 : 7,
          itemStyle: { color },
        }
        const endLabel = {
          show: true,
          // Beside a name there is no room for more.
          formatter: label || (typeof end === 'number' ? `${format(end)}${isSoFar ? ', so far' : ''}` : ''),
          color: tokens.ink,
          distance: 6,
          offset: [0, shifts[index]!],
        }
        const finished = {
          ...line,
          data: isSoFar ? [...all.slice(0, -1), null] : all,
          showSymbol: days.length <= 45,
          lineStyle: { color, width: 1.5 },
          ...(isSoFar ? {} : { endLabel }),
          ...(index === 0 && markers.length > 0
            ? { markLine: { ...STILL_LINE, data: dayMarkers(markers, tokens) } }
            : {}),
        }
        if (!isSoFar) return [finished]
        const rest = {
          ...line,
          data: all.map((value, day) => (day < all.length - 2 ? null : value)),
          showSymbol: false,
          lineStyle: { color, width: 1.5, type: 'dotted' as const },
          endLabel,
        }
        return [finished, rest]
      }),
    ],
  }
}

function levelSeries({ from, to, value }: Level, days: readonly string[], { ink }: ChartTokens) {
  return {
    type: 'line' as const,
    data: days.map((day) => (day >= from && day <= to ? value : null)),
    symbol: 'none',
    silent: true,
    lineStyle: { color: ink, width: 2, type: 'dashed' as const },
  }
}

const PLOT_HEIGHT = 180
const LABEL_HEIGHT = 14

/** How far down each line's label moves so that none covers another, in pixels of a chart of the usual height. */
function shiftsOfLabels(lines: readonly Line[], last: string | undefined): number[] {
  const most = Math.max(1e-9, ...lines.flatMap(({ values }) => values.map(({ value }) => value ?? 0)))
  const ends = lines.map(({ values }, index) => {
    const value = values.find(({ day }) => day === last)?.value ?? 0
    return { index, at: PLOT_HEIGHT * (1 - value / most) }
  })
  const shifts = lines.map(() => 0)
  const ordered = ends.sort((a, b) => a.at - b.at)
  let free = -Infinity
  const placed = ordered.map(({ at }) => {
    const place = Math.max(at, free)
    free = place + LABEL_HEIGHT
    return place
  })
  // Those that would hang below the plot move up again, and what is above them with them.
  let lowest = PLOT_HEIGHT
  for (let place = ordered.length - 1; place >= 0; place--) {
    const { index, at } = ordered[place]!
    shifts[index] = Math.min(placed[place]!, lowest) - at
    lowest = Math.min(placed[place]!, lowest) - LABEL_HEIGHT
  }
  return shifts
}

function told(
  days: readonly string[],
  lines: readonly Line[],
  format: (value: number) => string,
  unfinished: string | undefined,
  items: unknown,
): string {
  const [first] = Array.isArray(items) ? (items as { dataIndex: number }[]) : []
  const day = first && days[first.dataIndex]
  if (!day) return ''
  const values = lines.map(({ name, values: own }) => {
    const value = own.find((each) => each.day === day)?.value ?? null
    return `${name}: ${value === null ? 'nothing' : format(value)}`
  })
  return [`${shortDay(day)}${day === unfinished ? ', so far' : ''}`, ...values].join('\n')
}
