<script setup lang="ts">
import type { Attachment } from '~~/shared/findings/replies'
import { LARGEST_ATTACHMENT } from '~~/shared/findings/finding'

/** Files of a finding or a hypothesis. New ones are dropped here or chosen. */
const props = defineProps<{
  siteId: number
  of: 'finding' | 'hypothesis'
  id: number
  attachments: readonly Attachment[]
  mayEdit: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const api = useApi()
const notices = useNoticesStore()
const address = ({ id }: Attachment) =>
  `/api/sites/${props.siteId}/${props.of === 'finding' ? 'findings' : 'hypotheses'}/${props.id}/attachments/${id}`
const isPicture = ({ type }: Attachment) => type.startsWith('image/')
const size = ({ bytes }: Attachment) =>
  bytes < 100_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`
const adding = ref<string | null>(null)
const zone = useTemplateRef<HTMLElement>('zone')
const { isOverDropZone } = useDropZone(zone, (files) => void add(files ?? []))
const choose = useFileDialog({ multiple: true, reset: true })
choose.onChange((files) => void add([...(files ?? [])]))

const attach = (file: Blob, query: { name: string; isPicture?: string }) =>
  props.of === 'finding'
    ? api('addAttachment', { site: props.siteId, finding: props.id, query, file })
    : api('addHypothesisFile', { site: props.siteId, hypothesis: props.id, query, file })

async function add(files: readonly File[]): Promise<void> {
  for (const file of files) {
    adding.value = file.name
    try {
      if (file.size > LARGEST_ATTACHMENT)
        throw new ApiProblem(413, `${file.name} is larger than ${LARGEST_ATTACHMENT / 1024 / 1024} MB.`, {})
      await attach(file, { name: file.name })
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      notices.show(`${file.name}: ${error.message}`, { tone: 'problem' })
    }
  }
  adding.value = null
  emit('changed')
}
async function remove(attachment: Attachment): Promise<void> {
  // Kept for as long as it can be brought back.
  const file = await fetch(address(attachment)).then((reply) => reply.blob())
  const { id } = attachment
  if (props.of === 'finding') await api('deleteAttachment', { site: props.siteId, finding: props.id, attachment: id })
  else await api('deleteHypothesisFile', { site: props.siteId, hypothesis: props.id, attachment: id })
  emit('changed')
  notices.show(`Removed ${attachment.name}.`, {
    undo: async () => {
      await attach(file, { name: attachment.name, isPicture: attachment.isPicture ? 'yes' : undefined })
      emit('changed')
    },
  })
}
</script>

<template>
  <section ref="zone" aria-labelledby="attachments" :class="{ 'outline-2 outline-accent': isOverDropZone }">
    <h2 id="attachments" class="mb-2">Pictures and files</h2>
    <ul class="flex flex-col gap-4">
      <li v-for="attachment in attachments" :key="attachment.id">
        <a v-if="isPicture(attachment)" :href="address(attachment)" target="_blank" rel="noopener"
          ><img :src="address(attachment)" :alt="attachment.name" loading="lazy" class="max-h-140 border border-line"
        /></a>
        <span class="flex items-baseline gap-3 text-sm">
          <a :href="address(attachment)" target="_blank" rel="noopener" class="text-accent underline">{{
            attachment.name
          }}</a>
          <span class="text-ink-soft">{{ size(attachment) }}</span>
          <button
            v-if="mayEdit"
            type="button"
            class="text-ink-soft underline"
            :aria-label="`Remove ${attachment.name}`"
            @click="remove(attachment)"
          >
            Remove
          </button>
        </span>
      </li>
    </ul>
    <p v-if="mayEdit" class="mt-3 flex items-center gap-3">
      <BaseButton :disabled="adding !== null" @click="choose.open()">{{
        adding === null ? 'Attach files' : `Attaching ${adding} …`
      }}</BaseButton>
      <span class="text-sm text-ink-soft">Or drop them here: pictures, PDF, texts, 5 MB each.</span>
    </p>
  </section>
</template>
