import type { EventsStatement, Explanation } from '~~/shared/experiments/resultsReplies'

/** What is said of a number; where it can be computed from events too, how to ask for that statement. */
export type ExplainedFurther = Explanation & { fromEvents?: () => Promise<EventsStatement> }

let latest = 0

/** The number that is being explained, one at a time: what the server says of it, or why it says nothing. */
export function useExplanation() {
  const isOpen = useState('explanation-open', () => false)
  const explanation = useState<ExplainedFurther | null>('explanation', () => null)
  const problem = useState<string | null>('explanation-problem', () => null)

  async function open(load: () => Promise<ExplainedFurther>): Promise<void> {
    const turn = (latest += 1)
    explanation.value = problem.value = null
    isOpen.value = true
    try {
      const loaded = await load()
      // Another number may have been opened meanwhile.
      if (turn === latest) explanation.value = loaded
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      if (turn === latest) problem.value = error.message
    }
  }
  return { isOpen, explanation, problem, open }
}
