import { drawsFrom } from '~~/core/random/draws'
import { seededUniform } from '~~/core/random/seededUniform'
import { rehearse } from '~~/core/verdict/rehearsal'
import type { RehearsalReply, RehearsalRequest } from '../composables/useRehearsal'

const reply = (message: RehearsalReply) => postMessage(message)

onmessage = ({ data: { plan, seed } }: MessageEvent<RehearsalRequest>) => {
  try {
    reply({ scenarios: rehearse(plan, drawsFrom(seededUniform(seed)), (progress) => reply({ progress })) })
  } catch (error) {
    reply({ problem: error instanceof RangeError ? error.message : 'The rehearsal stopped. Try again.' })
  }
}
