<script setup lang="ts">
import type { HypothesisSummary } from '~~/shared/hypotheses/replies'

/** Puts a hypothesis to another place of the list, with a reason. */
const props = defineProps<{ hypothesis: HypothesisSummary; place: number; count: number }>()
const emit = defineEmits<{ close: []; place: [place: number | null, reason: string | null] }>()
const open = computed({ get: () => true, set: () => emit('close') })
const typed = ref<string | number | null>(props.place)
const reason = ref<string | number | null>(props.hypothesis.handReason ?? '')
const errors = reactive<{ place?: string; reason?: string }>({})

function move(): void {
  const place = Number(typed.value)
  const isPlace = Number.isInteger(place) && place >= 1 && place <= props.count
  errors.place = isPlace ? undefined : `Type a place from 1 to ${formatCount(props.count)}.`
  errors.reason = String(reason.value ?? '').trim() ? undefined : 'Say why it belongs there.'
  if (!errors.place && !errors.reason) emit('place', place, String(reason.value).trim())
}
</script>

<template>
  <PlainDialog v-model:open="open" :title="`Move “${hypothesis.title}”`">
    <form id="move-hypothesis" class="flex flex-col gap-3" novalidate @submit.prevent="move">
      <p class="text-sm text-ink-soft">
        It is at place {{ hypothesis.place }}, and at {{ hypothesis.computed }} by the ranking. The others move around
        it.
      </p>
      <TextField v-model="typed" class="w-28" label="Place" numeric :error="errors.place" />
      <TextField v-model="reason" label="Because" placeholder="Promised to the harbor office" :error="errors.reason" />
    </form>
    <template #actions>
      <BaseButton kind="quiet" @click="emit('close')">Cancel</BaseButton>
      <BaseButton v-if="hypothesis.handPlace !== null" @click="emit('place', null, null)"
        >Back to the ranking</BaseButton
      >
      <BaseButton kind="main" type="submit" form="move-hypothesis">Move</BaseButton>
    </template>
  </PlainDialog>
</template>
