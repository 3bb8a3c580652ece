import type { CollectedEvent } from './collect'

/**
 * How snippet and recorder find each other on a page: the snippet leaves a function under this symbol, the recorder,
 * which comes later and only where a view asks for it, calls it.
 */
export const recorderMark = (key: string) => Symbol.for(`vetch recorder ${key}`)

export type TellBehavior = (event: Omit<CollectedEvent, 'id' | 'view'>) => void

export interface Recorder {
  /** A view begins in which behavior is told. */
  enter: () => void
  /** The view ends: what is not told yet is told now. */
  leave: () => void
  /** Ends for good and tells nothing more. */
  stop: () => void
}
export type StartRecorder = (tell: TellBehavior) => Recorder
