<script setup lang="ts">
import { STAGE_CHOICES } from '~/data/hypothesisDraft'
import type { Stage } from '~~/shared/hypotheses/hypothesis'

/** The stage of a hypothesis. Setting aside and taking up again ask why. */
const props = defineProps<{ stage: Stage; title: string; isBare?: boolean }>()
const emit = defineEmits<{ move: [stage: Stage, reason: string | null] }>()
const asked = ref<Stage | null>(null)
const reason = ref<string | number | null>('')
const error = ref<string>()
const chosen = computed({
  get: () => props.stage,
  set: (stage) => {
    ask(stage)
    void nextTick(showCurrent)
  },
})
const root = useTemplateRef<HTMLElement>('root')
/** The field says where it stands and not what was asked for: a move may be canceled, or refused. */
function showCurrent(): void {
  const select = root.value?.querySelector('select')
  if (select) select.value = props.stage
}
function ask(stage: Stage): void {
  if (stage === props.stage) return
  if (stage !== 'set aside' && props.stage !== 'set aside') return emit('move', stage, null)
  asked.value = stage
  reason.value = ''
  error.value = undefined
}
defineExpose({ ask })
const open = computed({ get: () => asked.value !== null, set: () => (asked.value = null) })
function move(): void {
  const text = String(reason.value ?? '').trim()
  error.value = text ? undefined : 'Say why, so that nobody has to ask again.'
  if (!text) return
  emit('move', asked.value!, text)
  asked.value = null
}
</script>

<template>
  <div ref="root">
    <ChoiceField
      v-model="chosen"
      :label="isBare ? `Stage of ${title}` : 'Stage'"
      :is-bare="isBare"
      :choices="STAGE_CHOICES"
    />
    <PlainDialog
      v-model:open="open"
      :title="asked === 'set aside' ? 'Why is it set aside?' : 'Why is it taken up again?'"
    >
      <form id="stage-reason" novalidate @submit.prevent="move">
        <TextField v-model="reason" label="Because" :error="error" />
      </form>
      <template #actions>
        <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
        <BaseButton kind="main" type="submit" form="stage-reason">{{
          asked === 'set aside' ? 'Set it aside' : 'Take it up'
        }}</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
