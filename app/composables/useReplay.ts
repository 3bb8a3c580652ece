import { Replayer } from '@rrweb/replay'
import type { eventWithTime } from '@rrweb/types'
import { harmlessEvents } from '~/data/harmlessEvents'
import '@rrweb/replay/dist/style.css'

/** Between two things that happen for so long, playing goes quickly, in ms. */
const IDLE = 4000
export const SPEEDS = [1, 2, 4, 8] as const

/**
 * Plays a recording in an element. What was recorded is rebuilt in a frame without scripts; nothing in it is run, and
 * nothing is asked of anybody.
 *
 * @param root - the element to play in, once it is there
 * @param recorded - events of the whole recording, in the order of time, and copies of style sheets by their addresses
 */
export function useReplay(
  root: Readonly<Ref<HTMLElement | null>>,
  recorded: Readonly<Ref<{ events: object[]; styleSheets: ReadonlyMap<string, string> } | null>>,
) {
  const now = ref(0)
  const length = ref(0)
  const isPlaying = ref(false)
  const speed = ref<number>(1)
  const skipsIdle = ref(true)
  const size = shallowRef({ width: 0, height: 0 })
  const problem = ref<string | null>(null)
  let replayer: Replayer | null = null
  let wanted: number | null = null

  watch(
    [root, recorded],
    () => {
      if (!root.value || !recorded.value || replayer) return
      const { events, styleSheets } = recorded.value
      if (events.length < 2) return void (problem.value = 'The recording is too short to be played.')
      try {
        replayer = new Replayer(harmlessEvents(events as eventWithTime[], styleSheets), {
          root: root.value,
          skipInactive: skipsIdle.value,
          inactivePeriodThreshold: IDLE,
          speed: speed.value,
          showWarning: false,
          mouseTail: false,
          UNSAFE_replayCanvas: false,
        })
        replayer.on('resize', (next) => (size.value = next as { width: number; height: number }))
        replayer.on('finish', () => (isPlaying.value = false))
        length.value = replayer.getMetaData().totalTime
        seek(Math.min(wanted ?? 0, length.value))
      } catch {
        problem.value = 'The recording cannot be played: its beginning is missing.'
      }
    },
    { flush: 'post' },
  )
  const { pause: stopClock, resume: startClock } = useRafFn(
    () => {
      if (replayer) now.value = Math.max(0, Math.min(length.value, replayer.getCurrentTime()))
    },
    { immediate: false },
  )
  watch(isPlaying, (is) => (is ? startClock() : stopClock()))

  function play(): void {
    if (!replayer) return
    replayer.play(now.value >= length.value ? 0 : now.value)
    isPlaying.value = true
  }
  function pause(): void {
    replayer?.pause()
    isPlaying.value = false
  }
  /** Before anything is there, it is where playing begins. */
  function seek(moment: number): void {
    wanted = moment
    now.value = Math.max(0, Math.min(length.value, moment))
    if (!replayer) return
    if (isPlaying.value) replayer.play(now.value)
    else replayer.pause(now.value)
  }
  watch(speed, (value) => replayer?.setConfig({ speed: value }))
  watch(skipsIdle, (value) => replayer?.setConfig({ skipInactive: value }))
  onScopeDispose(() => replayer?.destroy())
  return { now, length, isPlaying, speed, skipsIdle, size, problem, play, pause, seek }
}
