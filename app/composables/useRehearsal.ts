import type { RehearsalPlan, RehearsedRule } from '~~/core/verdict/rehearsal'

/** What the page asks of the worker that rehearses, and what it answers. */
export interface RehearsalRequest {
  plan: RehearsalPlan
  /** In the place of the plan's own, one after the other. */
  rules: RehearsedRule['rule'][]
  seed: number
}
export type RehearsalReply = { progress: number } | { rehearsed: RehearsedRule[] } | { problem: string }

/** Rehearses a decision plan in a worker, one at a time, with progress and a way to stop. */
export function useRehearsal() {
  const progress = ref<number | null>(null)
  const rehearsed = shallowRef<RehearsedRule[] | null>(null)
  const problem = ref<string | null>(null)
  let worker: Worker | null = null

  function start(request: RehearsalRequest): void {
    stop()
    problem.value = null
    progress.value = 0
    worker = new Worker(new URL('../workers/rehearsal.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<RehearsalReply>) => {
      if ('progress' in data) return void (progress.value = data.progress)
      if ('rehearsed' in data) rehearsed.value = data.rehearsed
      else problem.value = data.problem
      stop()
    }
    worker.onerror = () => {
      problem.value = 'The rehearsal stopped. Try again.'
      stop()
    }
    worker.postMessage(request)
  }
  function stop(): void {
    worker?.terminate()
    worker = null
    progress.value = null
  }
  onScopeDispose(stop)
  return { progress, rehearsed, problem, start, stop }
}
