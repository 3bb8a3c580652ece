<script setup lang="ts">
import { defaultWay, type OccurrenceKind, type Way } from '~~/core/notifications/occurrence'
import { usualWords } from '~/notifications/wayWords'

/** What one is told of all experiments, and when letters may come. */
const api = useApi()
const notices = useNoticesStore()
const { value: choices, problem, reload } = useLoaded(() => api('readToldChoices', {}))

/** Asked for by name, or of what one has started: by default the others are only in the list. */
const BY_NAME: readonly OccurrenceKind[] = ['mentioned', 'approval', 'webhook']
function usual(kind: OccurrenceKind): string {
  const own = usualWords(defaultWay({ kind, experimentId: null, isOwn: true, isOwner: false }))
  return BY_NAME.includes(kind) || kind === 'started' ? own : `${own}, of what you start`
}
async function choose(kind: OccurrenceKind, way: Way | null): Promise<void> {
  try {
    choices.value = await api('changeToldChoices', { body: { ways: [{ kind, way }] } })
    notices.show('Saved.')
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
    await reload()
  }
}
</script>

<template>
  <ProblemNote v-if="problem" :text="problem" @retry="reload" />
  <LoadingNote v-else-if="!choices" />
  <div v-else class="flex flex-col gap-6">
    <ToldWays :ways="choices.ways" :usual="usual" @choose="choose" />
    <LetterTimesForm :times="choices.times" @saved="choices = $event" />
  </div>
</template>
