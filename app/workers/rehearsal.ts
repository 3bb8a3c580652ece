import { drawsFrom } from '~~/core/random/draws'
import { seededUniform } from '~~/core/random/seededUniform'
import { compareRules } from '~~/core/verdict/rehearsal'
import type { RehearsalReply, RehearsalRequest } from '../composables/useRehearsal'

const reply = (message: RehearsalReply) => postMessage(message)

onmessage = ({ data: { plan, rules, seed } }: MessageEvent<RehearsalRequest>) => {
  try {
    const drawsOf = () => drawsFrom(seededUniform(seed))
    reply({ rehearsed: compareRules(plan, rules, drawsOf, (progress) => reply({ progress })) })
  } catch (error) {
    reply({ problem: error instanceof RangeError ? error.message : 'The rehearsal stopped. Try again.' })
  }
}
