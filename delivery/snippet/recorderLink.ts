import { isInTest } from '../../core/assignment/assignment'
import { matchesPage } from '../../core/targeting/pageRule'
import { recorderMark, type Recorder, type StartRecorder, type TellBehavior } from '../../shared/recorder'
import type { SiteFile } from '../../shared/siteFile'
import { safely } from './safely'

/** Fetches the recorder at the first view that asks for it, and tells it where such views begin and end. */
export function linkRecorder({ key, entries }: SiteFile, base: string, visitor: string, tell: TellBehavior): Recorder {
  let recorder: Recorder | undefined
  let isAsked = false
  let isWanted = false

  function fetchRecorder(): void {
    isAsked = true
    Reflect.set(window, recorderMark(key), (start: StartRecorder) => {
      recorder = start(tell)
      if (isWanted) recorder.enter()
    })
    const script = document.createElement('script')
    script.async = true
    script.src = `${base}/recorder.js?key=${key}`
    document.head.append(script)
  }

  return {
    enter() {
      isWanted = entries.some((entry) =>
        safely(() => entry.kind === 'behavior' && matchesPage(entry.pages, location.href) && isInTest(visitor, entry)),
      )
      if (!isWanted) return
      if (recorder) recorder.enter()
      else if (!isAsked) fetchRecorder()
    },
    leave() {
      isWanted = false
      recorder?.leave()
    },
    stop() {
      isWanted = false
      recorder?.stop()
    },
  }
}
