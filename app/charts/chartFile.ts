import { BarChart, LineChart } from 'echarts/charts'
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { init, use, type ComposeOption } from 'echarts/core'
import type { BarSeriesOption, LineSeriesOption } from 'echarts/charts'
import type { GridComponentOption, TooltipComponentOption } from 'echarts/components'
import { CanvasRenderer, SVGRenderer } from 'echarts/renderers'
import type { ChartTokens } from './chartTokens'
import { vetchTheme } from './vetchTheme'

use([
  BarChart,
  LineChart,
  AriaComponent,
  GridComponent,
  MarkLineComponent,
  TooltipComponent,
  CanvasRenderer,
  SVGRenderer,
])

export type ChartOption = ComposeOption<
  BarSeriesOption | LineSeriesOption | GridComponentOption | TooltipComponentOption
>

const WIDTH = 900
const HEIGHT = 360
const FINE = 2

/** A chart as a file of its own, in the colors that it is seen in. */
export async function chartFile(option: ChartOption, tokens: ChartTokens, format: 'png' | 'svg'): Promise<Blob> {
  const chart = init(null, vetchTheme(tokens), {
    renderer: 'svg',
    ssr: true,
    width: WIDTH,
    height: HEIGHT,
  })
  chart.setOption({ ...option, animation: false, backgroundColor: tokens.raised })
  const svg = chart.renderToSVGString()
  chart.dispose()
  return format === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : drawn(option, tokens)
}

async function drawn(option: ChartOption, tokens: ChartTokens): Promise<Blob> {
  const chart = init(document.createElement('div'), vetchTheme(tokens), {
    renderer: 'canvas',
    width: WIDTH,
    height: HEIGHT,
    devicePixelRatio: FINE,
  })
  chart.setOption({ ...option, animation: false, backgroundColor: tokens.raised })
  const canvas = chart.renderToCanvas({ pixelRatio: FINE })
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  chart.dispose()
  if (!blob) throw new Error('The browser could not draw the picture.')
  return blob
}
