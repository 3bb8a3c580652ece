import type { Explanation } from '~~/shared/explanation'

/** The number that is being explained, one at a time: what the server says of it, or why it says nothing. */
export function useExplanation() {
  const isOpen = useState('explanation-open', () => false)
  const explanation = useState<Explanation | null>('explanation', () => null)
  const problem = useState<string | null>('explanation-problem', () => null)

  async function open(load: () => Promise<Explanation>): Promise<void> {
    explanation.value = problem.value = null
    isOpen.value = true
    try {
      explanation.value = await load()
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error.message
    }
  }
  return { isOpen, explanation, problem, open }
}
