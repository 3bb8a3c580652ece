<script setup lang="ts">
import type { OccurrenceKind, Way } from '~~/core/notifications/occurrence'
import { usualWords } from '~/notifications/wayWords'

/** What one is told of this experiment. */
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const store = useSheetStore()
const { value: ways, problem, reload } = useLoaded(() => api('readExperimentWays', store.place))
const usual = (kind: OccurrenceKind) => {
  const otherwise = ways.value?.find((each) => each.kind === kind)?.otherwise
  return otherwise ? usualWords(otherwise) : 'As usual'
}
const { problem: refusal, request } = useRequest()
const choose = (kind: OccurrenceKind, way: Way | null) =>
  request(async () => {
    ways.value = await api('changeExperimentWays', { ...store.place, body: { ways: [{ kind, way }] } })
  })
</script>

<template>
  <PlainDialog v-model:open="open" title="What you are told of this experiment">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!ways" />
    <ToldWays v-else :ways="ways" :usual="usual" @choose="choose" />
    <p v-if="refusal" class="mt-3 text-rust" role="alert">{{ refusal }}</p>
    <p class="mt-3 text-sm text-ink-soft">
      A choice holds at once. Choose what is usual under
      <NuxtLink class="underline" to="/account#told">your account</NuxtLink>.
    </p>
    <template #actions><BaseButton @click="open = false">Close</BaseButton></template>
  </PlainDialog>
</template>
