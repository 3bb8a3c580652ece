import type { HeatmapPicture, HeatmapTask } from '~/workers/heatmap'

/** Draws the density of clicks in a worker; of several that are asked for the latest counts. */
export function useHeatmapPicture() {
  const picture = shallowRef<ImageBitmap | null>(null)
  const worker = new Worker(new URL('../workers/heatmap.ts', import.meta.url), { type: 'module' })
  let latest = 0
  worker.onmessage = ({ data }: MessageEvent<HeatmapPicture>) => {
    if (data.number === latest) picture.value = data.picture
  }
  onScopeDispose(() => worker.terminate())
  const draw = (task: Omit<HeatmapTask, 'number'>) => worker.postMessage({ ...task, number: ++latest })
  return { picture, draw }
}
