import type { Recorder, RecorderContext, TellBehavior } from '../../shared/intake/recorder'
import { guarded, safely } from '../snippet/safely'
import { introduce } from './introduce'
import { watchClicks } from './clicks'
import { watchForms } from './forms'
import { watchReading } from './reading'
import { nativeDocument } from '../native'

/** One kind of behavior, watched for as long as a view lasts. */
export interface Watch {
  /** Tells what is not told yet, and goes on. */
  tell: () => void
  /** Ends it. */
  stop: () => void
}

const WATCHES: readonly ((tell: TellBehavior) => Watch)[] = [watchClicks, watchReading, watchForms]

const key = new URL((nativeDocument.currentScript as HTMLScriptElement).src).searchParams.get('key') ?? ''
introduce('behavior', key, startRecorder)

function startRecorder({ tell }: RecorderContext): Recorder {
  let watches: Watch[] = []
  const tellAll = () => watches.forEach((watch) => safely(watch.tell))
  const stopAll = () => {
    watches.forEach((watch) => safely(watch.stop))
    watches = []
  }
  const onHidden = guarded(() => nativeDocument.visibilityState === 'hidden' && tellAll())
  const onLeave = guarded(tellAll)
  // Before the snippet's own, which sends what has been told by then.
  addEventListener('visibilitychange', onHidden, true)
  addEventListener('pagehide', onLeave, true)
  return {
    enter() {
      stopAll()
      watches = WATCHES.flatMap((watch) => safely(() => watch(tell)) ?? [])
    },
    leave() {
      tellAll()
      stopAll()
    },
    stop() {
      removeEventListener('visibilitychange', onHidden, true)
      removeEventListener('pagehide', onLeave, true)
      stopAll()
    },
  }
}
