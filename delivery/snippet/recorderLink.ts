import { isInTest } from '../../core/assignment/assignment'
import { matchesPage } from '../../core/targeting/pageRule'
import {
  recorderMark,
  type FetchedKind,
  type Recorder,
  type RecorderContext,
  type StartRecorder,
} from '../../shared/intake/recorder'
import type { SiteFile } from '../../shared/delivery/siteFile'
import { fetchScript } from './fetchScript'
import { safely } from './safely'

/** Fetches what records at the first view that asks for it, and tells it where such views begin and end. */
export function linkRecorder(
  kind: FetchedKind,
  { key, entries }: SiteFile,
  context: Omit<RecorderContext, 'masksText'>,
): Recorder {
  let recorder: Recorder | undefined
  let isAsked = false
  let isWanted = false
  let isStopped = false

  function fetchRecorder(masksText: boolean): void {
    isAsked = true
    Reflect.set(window, recorderMark(kind, key), (start: StartRecorder) => {
      if (isStopped) return
      recorder = start({ ...context, masksText })
      if (isWanted) recorder.enter()
    })
    fetchScript(`${context.base}/recorder.js?key=${key}&kind=${kind}`)
  }

  return {
    enter() {
      const wanted = entries.find((entry) =>
        safely(
          () => entry.kind === kind && matchesPage(entry.pages, location.href) && isInTest(context.visitor, entry),
        ),
      )
      isWanted = !!wanted
      if (!wanted) return
      if (recorder) recorder.enter()
      else if (!isAsked) fetchRecorder('masksText' in wanted && wanted.masksText)
    },
    leave() {
      isWanted = false
      recorder?.leave()
    },
    stop() {
      isWanted = false
      isStopped = true
      recorder?.stop()
      // What earlier pages have recorded and not sent is forgotten with everything else.
      if (kind === 'recording') safely(() => indexedDB.deleteDatabase(`vetch_recording_${key}`))
    },
  }
}
