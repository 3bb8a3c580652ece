import type { ChartTokens } from './chartTokens'

/** The one look of all charts: hairlines, direct labels, no legend. */
export function vetchTheme({ ink, inkSoft, line, lineStrong, raised, font, variant }: ChartTokens) {
  const axis = {
    axisLine: { show: true, lineStyle: { color: lineStrong } },
    axisTick: { show: false },
    axisLabel: { color: inkSoft, fontSize: 12 },
    nameTextStyle: { color: inkSoft, fontSize: 12 },
    splitLine: { lineStyle: { color: line } },
  }
  return {
    color: [0, 1, 2, 3, 4, 5].map(variant),
    backgroundColor: 'transparent',
    textStyle: { fontFamily: font, color: ink },
    grid: { left: 8, right: 64, top: 28, bottom: 8, outerBoundsMode: 'same', outerBoundsContain: 'axisLabel' },
    categoryAxis: { ...axis, splitLine: { show: false } },
    valueAxis: { ...axis, axisLine: { show: false } },
    line: { lineStyle: { width: 2 }, symbolSize: 7, connectNulls: false },
    tooltip: {
      // Names are the team's and the visitors' words: they are never read as markup.
      renderMode: 'richText',
      backgroundColor: raised,
      borderColor: lineStrong,
      textStyle: { color: ink, fontSize: 13 },
      axisPointer: { lineStyle: { color: lineStrong } },
    },
  }
}
