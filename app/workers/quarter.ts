import { chooseForQuarter } from '~~/core/hypotheses/quarter'
import type { QuarterReply, QuarterRequest } from '../composables/useQuarterChoice'

onmessage = ({ data: { ideas, terms } }: MessageEvent<QuarterRequest>) => {
  const reply = (message: QuarterReply) => postMessage(message)
  try {
    reply({ choice: chooseForQuarter(ideas, terms) })
  } catch (error) {
    reply({ problem: error instanceof RangeError ? error.message : 'Planning stopped. Try again.' })
  }
}
