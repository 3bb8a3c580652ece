import type { Group } from '../../core/targeting/condition'
import type { CollectedEvent } from './collect'

/**
 * How the snippet and what it fetches for some views find each other on a page: the snippet leaves a function under a
 * symbol, and the script, which comes later and only where a view asks for it, calls it.
 */
/** The element in which a survey stands on a page. */
export const SURVEY_TAG = 'vetch-survey'

export type FetchedKind = 'behavior' | 'recording' | 'survey' | 'drift'
export const recorderMark = (kind: FetchedKind, key: string) => Symbol.for(`vetch ${kind} ${key}`)

export type TellBehavior = (event: Omit<CollectedEvent, 'id' | 'view'>) => void

/** What the snippet knows of the visitor and the view that is open. */
export interface RecorderContext {
  tell: TellBehavior
  /** Where Vetch answers. */
  base: string
  visitor: string
  /** Ids of the view that is open, and of its session. */
  place: () => { view: string; session: string }
  /** Whether the visitor fulfils conditions; there where any of the site's ask for something. */
  fulfils?: (audience: Group) => boolean
  /** Whether texts are masked as inputs are. */
  masksText: boolean
}

export interface Recorder {
  /** A view begins that is recorded. */
  enter: () => void
  /** The view ends: what is not told yet is told now. */
  leave: () => void
  /** Ends for good and tells nothing more. */
  stop: () => void
}
export type StartRecorder = (context: RecorderContext) => Recorder
