import type { FromPage, ToPage } from '../../shared/edits/pointing'
import { nativeDocument } from '../native'

const script = nativeDocument.currentScript as HTMLScriptElement
/** Path that a copy of a page takes itself to be at; undefined on the page itself. */
export const copiedPath = script.dataset.path
const { origin, searchParams } = new URL(script.src)
const token = searchParams.get('token') ?? ''
/** The page stands in a frame of Vetch, or in a window that Vetch has opened. */
const vetch: Window | null = window.parent === window ? (window.opener as Window | null) : window.parent

/** Whether there is anybody to talk to: a page with a token may have been opened by hand. */
export const isOpened = vetch !== null

type WithoutToken<Message> = Message extends unknown ? Omit<Message, 'token'> : never

/** Tells Vetch, and nobody else. */
export function send(message: WithoutToken<FromPage>): void {
  vetch?.postMessage({ ...message, token }, origin)
}

/** Takes messages that come from Vetch, and from nobody else. */
export function receive(take: (message: ToPage) => void): void {
  addEventListener('message', ({ data, origin: from, source }: MessageEvent<ToPage | null>) => {
    if (from === origin && source === vetch && data) take(data)
  })
}
