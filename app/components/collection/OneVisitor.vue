<script setup lang="ts">
import { saveFile } from '~/data/saveFile'
import { VISITOR_ID } from '~~/shared/intake/browserIds'

/** What is kept of one visitor: handed out to them, or erased. */
const props = defineProps<{ siteId: number }>()
const api = useApi()
const notices = useNoticesStore()
const visitor = ref('')
const isAsking = ref(false)
const { problem, isUnderWay, request } = useRequest()
const id = computed(() => String(visitor.value ?? '').trim())

function check(): boolean {
  problem.value = VISITOR_ID.test(id.value) ? undefined : 'Type the id as it stands in the cookie “vetch_visitor”.'
  return !problem.value
}
const exportOne = () =>
  request(async () => {
    const found = await api('exportVisitor', { site: props.siteId, visitor: id.value })
    saveFile(`visitor-${id.value}.json`, new Blob([JSON.stringify(found, null, 2)], { type: 'application/json' }))
  })
const erase = () =>
  request(async () => {
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
      Erasing deletes their views, events and recordings, and takes them out of the sums of experiments. If the browser
      comes again, it is a new visitor.
    </p>
    <TextField v-model="visitor" class="max-w-sm" label="Id of the visitor" :error="problem" />
    <div class="flex gap-3">
      <BaseButton :disabled="isUnderWay" @click="check() && exportOne()">Export</BaseButton>
      <BaseButton :disabled="isUnderWay" @click="isAsking = check()">Erase …</BaseButton>
    </div>
    <PlainDialog v-model:open="isAsking" title="Erase this visitor?">
      <p>
        Everything that is kept of <code class="font-mono text-xs break-all">{{ id }}</code> is deleted, also from the
        numbers of experiments. This cannot be undone.
      </p>
      <template #actions>
        <BaseButton kind="quiet" @click="isAsking = false">Cancel</BaseButton>
        <BaseButton kind="main" @click="erase">Erase</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
