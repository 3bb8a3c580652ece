import { BANDS } from '../../core/evidence/behavior'
import type { TellBehavior } from '../../shared/intake/recorder'
import { guarded } from '../snippet/safely'
import type { Watch } from './main'
import { native, nativeDocument } from '../native'

/** Nobody looks at a page any more that has had no sign of life for so many ms. */
const AWAKE = 60_000
/** Scrolling asks for the position at most so often, in ms. */
const SCROLL_PAUSE = 150
/** A shorter look is not told. */
const SHORTEST = 100

/** Tells how long and how far a page is looked at, and for how long each of its parts is in the window. */
export function watchReading(tell: TellBehavior): Watch {
  let bands = new Array<number>(BANDS).fill(0)
  let seen = 0
  let last = performance.now()
  let alive = last
  let isVisible = nativeDocument.visibilityState === 'visible'
  let position = readPosition()
  let { depth } = position
  let waiting: ReturnType<typeof setTimeout> | undefined

  /** Accounts for the time since the last account, by where the window has been since. */
  function settle(): void {
    const now = performance.now()
    const elapsed = isVisible ? Math.max(0, Math.min(now, alive + AWAKE) - last) : 0
    last = now
    seen += elapsed
    const { top, height } = position
    for (let band = 0; band < BANDS; band++) {
      const middle = ((band + 0.5) * height) / BANDS
      if (middle >= top && middle <= position.depth) bands[band]! += elapsed
    }
    position = readPosition()
    depth = Math.max(depth, position.depth)
  }

  const onScroll = () => {
    alive = performance.now()
    waiting ??= setTimeout(
      guarded(() => {
        waiting = undefined
        settle()
      }),
      SCROLL_PAUSE,
    )
  }
  const onLife = guarded(() => {
    const now = performance.now()
    // What has passed in sleep is settled before the page is awake again.
    if (now > alive + AWAKE) settle()
    alive = now
  })
  const onVisibility = guarded(() => {
    settle()
    isVisible = nativeDocument.visibilityState === 'visible'
    alive = performance.now()
  })
  const LIFE = ['pointermove', 'pointerdown', 'keydown', 'touchmove'] as const
  const options = { capture: true, passive: true } as const
  addEventListener('scroll', onScroll, options)
  addEventListener('resize', onScroll, options)
  nativeDocument.addEventListener('visibilitychange', onVisibility)
  LIFE.forEach((name) => addEventListener(name, onLife, options))

  return {
    tell() {
      settle()
      if (seen < SHORTEST) return
      const { height } = position
      const properties = {
        seen: Math.round(seen),
        depth: Math.min(height, depth),
        height,
        bands: bands.map(Math.round),
      }
      tell({ type: 'reading', properties })
      seen = 0
      bands = new Array<number>(BANDS).fill(0)
    },
    stop() {
      clearTimeout(waiting)
      removeEventListener('scroll', onScroll, options)
      removeEventListener('resize', onScroll, options)
      nativeDocument.removeEventListener('visibilitychange', onVisibility)
      LIFE.forEach((name) => removeEventListener(name, onLife, options))
    },
  }
}

/** What of the page is in the window, in pixels from its top: `depth` is the lower edge. */
function readPosition(): { top: number; depth: number; height: number } {
  const top = Math.max(0, Math.round(scrollY))
  const height = Math.max(native(nativeDocument.documentElement)?.scrollHeight ?? 0, innerHeight)
  return { top, depth: Math.round(top + innerHeight), height }
}
