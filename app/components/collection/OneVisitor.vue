<script setup lang="ts">
import { saveFile } from '~/data/saveFile'

/** What is kept of one visitor: handed out to them, or erased. */
const props = defineProps<{ siteId: number }>()
const api = useApi()
const notices = useNoticesStore()
const visitor = ref('')
const error = ref<string>()
const isAsking = ref(false)
const isWorking = ref(false)
const id = computed(() => String(visitor.value ?? '').trim())

function check(): boolean {
  error.value = /^[\w-]{8,64}$/.test(id.value) ? undefined : 'Type the id as it stands in the cookie “vetch_visitor”.'
  return !error.value
}
async function work(what: () => Promise<void>): Promise<void> {
  if (!check()) return
  isWorking.value = true
  try {
    await what()
  } catch (problem) {
    if (!(problem instanceof ApiProblem)) throw problem
    error.value = problem.message
  } finally {
    isWorking.value = false
  }
}
const handOut = () =>
  work(async () => {
    const found = await api('exportVisitor', { site: props.siteId, visitor: id.value })
    saveFile(`visitor-${id.value}.json`, new Blob([JSON.stringify(found, null, 2)], { type: 'application/json' }))
  })
const erase = () =>
  work(async () => {
    isAsking.value = false
    const { rows } = await api('eraseVisitor', { site: props.siteId, visitor: id.value })
    notices.show(`Erased ${formatCount(rows)} ${rows === 1 ? 'entry' : 'entries'}.`)
    visitor.value = ''
  })
</script>

<template>
  <div class="flex max-w-2xl flex-col gap-3">
    <p class="text-sm text-ink-soft">
      A visitor finds the id in the cookie <code class="font-mono text-xs">vetch_visitor</code> of their browser.
      Erasing takes them out of views, events, recordings and the sums of experiments; should the browser come again, it
      is a new visitor.
    </p>
    <TextField v-model="visitor" class="max-w-sm" label="Id of the visitor" :error="error" />
    <div class="flex gap-3">
      <BaseButton :disabled="isWorking" @click="handOut">Export</BaseButton>
      <BaseButton :disabled="isWorking" @click="isAsking = check()">Erase …</BaseButton>
    </div>
    <PlainDialog v-model:open="isAsking" title="Erase this visitor?">
      <p>
        Everything that is kept of <code class="font-mono text-xs break-all">{{ id }}</code> goes, also from the numbers
        of experiments. It cannot be brought back.
      </p>
      <template #actions>
        <BaseButton kind="quiet" @click="isAsking = false">Keep</BaseButton>
        <BaseButton kind="main" @click="erase">Erase</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
