<script setup lang="ts">
import type { Edit } from '~~/core/edits/content'
import { redirectKind } from '~~/core/edits/redirect'
import type { SheetVariant } from '~~/core/sheet/content'
import { drawThingId } from '~~/shared/thingId'

/** Where the visitors of a variant are sent: a whole page in the place of edits. */
const props = defineProps<{ variant: SheetVariant; redirect: Edit | null }>()
const emit = defineEmits<{ done: [] }>()
const { make } = useSheetChanges()
const list = computed(() => ({ part: 'edits' as const, variant: props.variant.id }))
const kept = computed(() => (props.redirect?.kind === 'redirect' ? props.redirect.value : ''))
const address = ref(kept.value)
watch(kept, () => (address.value = kept.value))
const problem = ref('')

function keep(): void {
  const value = address.value.trim()
  if (value === kept.value) return
  if (!value) return remove()
  problem.value = redirectKind.problems({ kind: 'redirect', value })[0] ?? ''
  if (problem.value) return
  if (props.redirect)
    make({ do: 'set', of: { ...list.value, id: props.redirect.id }, from: { value: kept.value }, to: { value } })
  else make({ do: 'add', list: list.value, item: { id: drawThingId(), kind: 'redirect', value }, before: null })
}
function remove(): void {
  problem.value = ''
  if (props.redirect) make({ do: 'remove', list: list.value, item: props.redirect }, 'Visitors stay on the page.')
  emit('done')
}
</script>

<template>
  <div class="mb-2 flex items-end gap-2">
    <TextField
      v-model="address"
      class="flex-1"
      label="Visitors go to"
      hint="Parameters of their address go along."
      placeholder="/timetable-by-day"
      :error="problem"
      @commit="keep"
    />
    <BaseButton kind="quiet" class="mb-6" @click="remove">Stay on the page</BaseButton>
  </div>
</template>
