import { expect, test } from 'vitest'
import type { ChartTokens } from './chartTokens'
import { dayAxis } from './dayAxis'
import { liftChart } from './liftChart'
import { linesChart } from './linesChart'

const tokens = { variant: (position: number) => `color ${position}` } as ChartTokens
interface Series {
  data: (number | null)[]
  endLabel?: { offset: [number, number] }
  markLine?: { data: { xAxis?: string; yAxis?: number }[] }
}
const seriesOf = (option: { series?: unknown }) => option.series as Series[]

test('days without anything are gaps on the axis', () => {
  expect(dayAxis(['2026-03-30', '2026-03-28'])).toEqual(['2026-03-28', '2026-03-29', '2026-03-30'])
  expect(dayAxis([])).toEqual([])
})

test('a lift is drawn in the band of its interval, cut off where the first days are far wider', () => {
  const lifts = [
    { day: '2026-03-01', lift: 0.5, interval: [-3, 9] as const },
    { day: '2026-03-02', lift: null, interval: null },
    { day: '2026-03-04', lift: 0.1, interval: [-0.1, 0.3] as const },
  ]
  const chart = { lifts, position: 2, name: 'Warm', worthwhile: 0.05 }
  const option = liftChart({ ...chart, markers: [{ day: '2026-03-03', text: 'paused' }] }, tokens)
  const [low, band, line] = seriesOf(option)
  const { min, max } = option.yAxis as { min: number; max: number }
  expect([min, max]).toEqual([-0.345, 0.345])
  expect(low!.data).toEqual([min, null, null, -0.1])
  expect(band!.data.map((value) => value && Number(value.toFixed(6)))).toEqual([0.69, null, null, 0.4])
  expect(line!.data).toEqual([0.5, null, null, 0.1])
  expect(line!.markLine!.data.map(({ xAxis, yAxis }) => xAxis ?? yAxis)).toEqual([0, 0.05, '2026-03-03'])
})

test('lines are named at their ends, and no name covers another', () => {
  const day = '2026-03-01'
  const line = (value: number, position: number) => ({
    name: `Line ${position}`,
    label: String(position),
    position,
    values: [{ day, value }],
  })
  const option = linesChart({ lines: [line(100, 0), line(99, 1), line(10, 2)], unit: 'orders', format: String }, tokens)
  expect(option.yAxis).toMatchObject({ minInterval: 1 })
  const shares = linesChart({ lines: [line(0.5, 0)], unit: '', format: String }, tokens)
  expect(shares.yAxis).toMatchObject({ minInterval: 0 })
  const shifts = seriesOf(option).map(({ endLabel }) => endLabel!.offset[1])
  expect(shifts[0]).toBe(0)
  expect(shifts[1]).toBeGreaterThan(10)
  expect(shifts[2]).toBe(0)
})

test('a day that is not over is drawn apart, and says so; a line without a name ends with its value', () => {
  const values = [
    { day: '2026-03-01', value: 0.5 },
    { day: '2026-03-02', value: 0.25 },
    { day: '2026-03-03', value: 1 / 3 },
  ]
  const chart = { lines: [{ name: 'Share', label: '', position: null, values }], unit: '' }
  const format = (value: number) => `${Math.round(value * 100)} %`
  const endOf = (option: { series?: unknown }) =>
    seriesOf(option).map(({ endLabel }) => (endLabel as { formatter?: string } | undefined)?.formatter)

  const whole = linesChart({ ...chart, format }, tokens)
  expect(seriesOf(whole).map(({ data }) => data)).toEqual([[0.5, 0.25, 1 / 3]])
  expect(endOf(whole)).toEqual(['33 %'])

  const soFar = linesChart({ ...chart, format, unfinished: '2026-03-03' }, tokens)
  expect(seriesOf(soFar).map(({ data }) => data)).toEqual([
    [0.5, 0.25, null],
    [null, 0.25, 1 / 3],
  ])
  expect(endOf(soFar)).toEqual([undefined, '33 %, so far'])
  const named = { ...chart, lines: [{ ...chart.lines[0]!, label: 'phone' }], format, unfinished: '2026-03-03' }
  expect(endOf(linesChart(named, tokens))).toEqual([undefined, 'phone'])
  const tell = (soFar.tooltip as { formatter: (items: unknown) => string }).formatter
  expect(tell([{ dataIndex: 2 }])).toBe('Mar 3, so far\nShare: 33 %')
  // Where the days end before it, nothing is unfinished.
  expect(seriesOf(linesChart({ ...chart, format, unfinished: '2026-03-04' }, tokens))).toHaveLength(1)
})
