import type { ChartOption } from './chartFile'
import type { ChartTokens } from './chartTokens'
import { variantShape } from './variantShapes'

/** What an arm comes to within each variant of another experiment. */
export interface LineWithin {
  name: string
  /** Position of the arm. */
  position: number
  means: readonly (number | null)[]
}

/** One line for each arm over the variants of another experiment: lines that are not parallel are an interaction. */
export function linesWithin(
  { names, lines, show }: { names: readonly string[]; lines: readonly LineWithin[]; show: (mean: number) => string },
  tokens: ChartTokens,
): ChartOption {
  return {
    tooltip: { trigger: 'axis', valueFormatter: (value) => (typeof value === 'number' ? show(value) : 'nothing yet') },
    xAxis: { type: 'category', data: [...names], boundaryGap: true },
    yAxis: { type: 'value', scale: true, axisLabel: { formatter: show } },
    series: lines.map(({ name, position, means }) => ({
      type: 'line',
      name,
      data: [...means],
      symbol: `path://${variantShape(position)}`,
      symbolSize: 10,
      itemStyle: { color: tokens.variant(position) },
      lineStyle: { color: tokens.variant(position) },
      endLabel: { show: true, formatter: name, color: tokens.ink, distance: 6 },
    })),
  }
}
