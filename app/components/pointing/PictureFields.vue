<script setup lang="ts">
import type { Edit, EditContent } from '~~/core/edits/content'
import { imageKind, type Picture } from '~~/core/edits/image'
import { editOfSame } from '~~/core/sheet/editChange'
import type { PointedElement } from '~~/shared/edits/pointing'

/** Another picture: a file of one's own, or the address of one. */
const props = defineProps<{
  element: PointedElement
  edits: readonly Edit[]
  upload: (file: File) => Promise<string>
}>()
const emit = defineEmits<{ commit: [content: EditContent] }>()
const original = computed<Picture>(() => props.element.picture ?? { address: '', alt: '' })
const contentOf = (value: Picture): Extract<EditContent, { kind: 'image' }> => ({
  kind: 'image',
  selector: props.element.selector,
  clues: props.element.clues,
  value,
  original: original.value,
})
const kept = computed<Picture>(() => {
  const edit = editOfSame(props.edits, contentOf(original.value))
  return edit?.kind === 'image' ? edit.value : original.value
})
const address = ref('')
const alt = ref('')
// What is being typed in one field stays while the other is kept.
watch(
  kept,
  (now, before) => {
    if (address.value === (before?.address ?? '')) address.value = now.address
    if (alt.value === (before?.alt ?? '')) alt.value = now.alt
  },
  { immediate: true },
)
const problem = ref('')
const isUploading = ref(false)

function commit(): void {
  const content = contentOf({ address: address.value.trim(), alt: alt.value.trim() })
  problem.value = imageKind.problems(content).find((each) => !each.includes('already')) ?? ''
  if (!problem.value) emit('commit', content)
}
async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  isUploading.value = true
  problem.value = ''
  try {
    address.value = await props.upload(file)
    commit()
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    problem.value = error.message
  } finally {
    isUploading.value = false
  }
}
</script>

<template>
  <label class="text-sm">
    <span class="font-medium">A file of yours</span> (PNG, JPEG, WebP or GIF, up to 2 MB)
    <input
      type="file"
      accept="image/png,image/jpeg,image/webp,image/gif"
      class="mt-1 block w-full text-sm"
      :disabled="isUploading"
      @change="take"
    />
  </label>
  <TextField v-model="address" label="Address of the picture" :error="problem" @commit="commit" />
  <TextField v-model="alt" label="Alt text" @commit="commit" />
</template>
