import { jsonText } from '../snippet/jsonText'
import { record } from '@rrweb/record'
import type { Recorder, RecorderContext } from '../../shared/intake/recorder'
import { newId } from '../snippet/clock'
import { guarded, safely } from '../snippet/safely'
import { introduce } from '../recorder/introduce'
import { createChunkSender } from './chunkSender'
import { withoutValues } from './withoutValues'
import { nativeDocument } from '../native'

/** Chunks end after so many ms, or so many characters. */
const LONGEST = 2500
const LARGEST = 60_000
/** A view is recorded for so long; a page that stays open for a day is not. */
const LONGEST_VIEW = 30 * 60_000
const MASK = '•••'
/** Texts that people type are no inputs everywhere; the others are those that the site has marked. */
const TYPED_TEXTS = '[contenteditable],textarea,[data-vetch-mask]'
const INPUTS = [
  ...['color', 'date', 'datetime-local', 'email', 'month', 'number', 'range', 'search', 'tel', 'text', 'time', 'url'],
  ...['week', 'textarea', 'select', 'password', 'hidden', 'file'],
]

const key = new URL((nativeDocument.currentScript as HTMLScriptElement).src).searchParams.get('key') ?? ''
introduce('recording', key, startRecording)

function startRecording({ base, visitor, place, masksText }: RecorderContext): Recorder {
  const sender = createChunkSender(`${base}/record?key=${key}`, key)
  let end = () => {}

  function enter(): void {
    end()
    const { view, session } = place()
    const began = performance.now()
    let number = 0
    let size = 0
    let events: string[] = []
    let timer: ReturnType<typeof setTimeout> | undefined
    let times: [first: number, last: number] = [0, 0]

    const flush = (isLast: boolean) => {
      clearTimeout(timer)
      timer = undefined
      if (events.length === 0) return
      const [first, last] = times
      const head = jsonText({ key, visitor, session, view, id: newId(), number: number++, first, last })
      sender.send(`${head.slice(0, -1)},"events":[${events.join()}]}`, isLast)
      events = []
      size = 0
    }
    const stop = record({
      emit: (event) => {
        if (performance.now() - began > LONGEST_VIEW) return end()
        const text = withoutValues(event, masksText)
        if (events.length === 0) times = [event.timestamp, event.timestamp]
        times[1] = Math.max(times[1], event.timestamp)
        events.push(text)
        size += text.length
        if (size > LARGEST) flush(false)
        else
          timer ??= setTimeout(
            guarded(() => flush(false)),
            LONGEST,
          )
      },
      maskInputOptions: Object.fromEntries(INPUTS.map((name) => [name, true])),
      maskInputFn: (text) => (text ? MASK : ''),
      maskTextSelector: masksText ? '*' : TYPED_TEXTS,
      blockSelector: '[data-vetch-block]',
      slimDOMOptions: 'all',
      sampling: { mousemove: 80, scroll: 150, media: 800, input: 'last' },
      recordAfter: 'DOMContentLoaded',
      errorHandler: () => true,
    })
    const onHidden = guarded(() => nativeDocument.visibilityState === 'hidden' && flush(true))
    const onLeave = guarded(() => flush(true))
    addEventListener('visibilitychange', onHidden, true)
    addEventListener('pagehide', onLeave, true)
    end = () => {
      end = () => {}
      removeEventListener('visibilitychange', onHidden, true)
      removeEventListener('pagehide', onLeave, true)
      safely(() => stop?.())
      flush(true)
    }
  }

  return {
    enter,
    leave: () => end(),
    stop() {
      sender.stop()
      end()
    },
  }
}
