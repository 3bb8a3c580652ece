import type { QuarterChoice, QuarterTerms, TestableIdea } from '~~/core/hypotheses/quarter'

/** What the page asks of the worker that chooses, and what it answers. */
export interface QuarterRequest {
  ideas: TestableIdea[]
  terms: QuarterTerms
}
export type QuarterReply = { choice: QuarterChoice } | { problem: string }

/** Chooses what to test in a worker, one choice at a time; a new one takes the place of the last. */
export function useQuarterChoice() {
  const choice = shallowRef<QuarterChoice | null>(null)
  const problem = ref<string | null>(null)
  const isChoosing = ref(false)
  let worker: Worker | null = null

  function start(request: QuarterRequest): void {
    stop()
    problem.value = null
    isChoosing.value = true
    worker = new Worker(new URL('../workers/quarter.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<QuarterReply>) => {
      if ('choice' in data) choice.value = data.choice
      else problem.value = data.problem
      stop()
    }
    worker.onerror = () => {
      problem.value = 'Planning stopped. Try again.'
      stop()
    }
    worker.postMessage(request)
  }
  function stop(): void {
    worker?.terminate()
    worker = null
    isChoosing.value = false
  }
  onScopeDispose(stop)
  return { choice, problem, isChoosing, start, stop }
}
