import { recorderMark, type FetchedKind, type StartRecorder } from '../../shared/intake/recorder'
import { safely } from '../snippet/safely'

/** Tells the snippet that has fetched this script how its recorder is started. */
export function introduce(kind: FetchedKind, key: string, start: StartRecorder): void {
  const waiting = window as unknown as Record<symbol, ((start: StartRecorder) => void) | undefined>
  safely(() => waiting[recorderMark(kind, key)]?.(start))
}
