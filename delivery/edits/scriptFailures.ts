import { SCRIPT_NAME } from './code'

/** What went wrong in the script of a variant. */
export interface ScriptFailure {
  message: string
  /** Of the script as it was written, from 1; 0 where the browser does not say. */
  line: number
}

/** Tells whenever the script of a variant throws, or cannot be run. */
export function watchScriptFailures(onFailure: (failure: ScriptFailure) => void): void {
  addEventListener('error', ({ message, filename, error }) => {
    const stack = error instanceof Error ? (error.stack ?? '') : ''
    const place = new RegExp(`${SCRIPT_NAME}:(\\d+)`).exec(stack)
    if (!place && !filename.endsWith(SCRIPT_NAME)) return
    // The script begins in the second line.
    onFailure({
      message: message.replace(/^Uncaught /, '').slice(0, 300),
      line: Math.max(0, Number(place?.[1] ?? 1) - 1),
    })
  })
}
