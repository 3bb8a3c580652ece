import type { RehearsalPlan, RehearsalScenario } from '~~/core/verdict/rehearsal'

/** What the page asks of the worker that rehearses, and what it answers. */
export interface RehearsalRequest {
  plan: RehearsalPlan
  seed: number
}
export type RehearsalReply = { progress: number } | { scenarios: RehearsalScenario[] } | { problem: string }

/** Rehearses a decision plan in a worker, one at a time, with progress and a way to stop. */
export function useRehearsal() {
  const progress = ref<number | null>(null)
  const scenarios = shallowRef<RehearsalScenario[] | null>(null)
  const problem = ref<string | null>(null)
  let worker: Worker | null = null

  function start(request: RehearsalRequest): void {
    stop()
    problem.value = null
    progress.value = 0
    worker = new Worker(new URL('../workers/rehearsal.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<RehearsalReply>) => {
      if ('progress' in data) return void (progress.value = data.progress)
      if ('scenarios' in data) scenarios.value = data.scenarios
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
  return { progress, scenarios, problem, start, stop }
}
