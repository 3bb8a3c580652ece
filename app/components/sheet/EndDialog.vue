<script setup lang="ts">
import { messagesByField } from '~~/shared/api/messagesByField'
import type { EndInput } from '~~/shared/experiments/experiment'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import { servedAfterSchema } from '~~/shared/rollouts/rollout'
import { proposedPosition } from '~~/core/verdict/proposal'
import type { Verdict } from '~~/core/verdict/verdict'

/** Asks for the decision: which variant to keep and why, and what visitors see from then on. */
const props = defineProps<{ sheet: ExperimentSheet; verdict: Verdict | null }>()
const emit = defineEmits<{ end: [ending: EndInput] }>()
const open = defineModel<boolean>('open', { required: true })
const kept = ref<string | undefined>()
const reason = ref('')
const errors = ref<Record<string, string>>({})
const NONE = 'none'
const rollsOut = ref(true)
const reach = reactive<{ share: number | string; isForEverybody: boolean; heldBack: number | string }>({
  share: 10_000,
  isForEverybody: false,
  heldBack: 0,
})
const chosen = computed(() => props.sheet.variants.find(({ id }) => id === kept.value) ?? null)
const isChange = computed(() => chosen.value !== null && chosen.value.id !== props.sheet.variants[0]!.id)
const isRolledOut = computed(() => isChange.value && rollsOut.value)

watch(open, (isOpen) => {
  if (!isOpen || kept.value !== undefined || !props.verdict) return
  const names = props.sheet.variants.map(({ name }) => name)
  kept.value = props.sheet.variants[proposedPosition(props.verdict, names) ?? -1]?.id
})

function end(): void {
  errors.value = {
    ...(isRolledOut.value ? messagesByField(servedAfterSchema, reach) : {}),
    ...(kept.value === undefined ? { kept: 'Choose what to keep.' } : {}),
    ...(reason.value.trim() === '' ? { reason: 'Say why, for those who come back to it.' } : {}),
  }
  if (Object.keys(errors.value).length > 0) return
  emit('end', {
    variant: kept.value === NONE ? null : kept.value!,
    reason: reason.value,
    rollout: isRolledOut.value ? servedAfterSchema.validateSync(reach) : null,
  })
}
</script>

<template>
  <PlainDialog v-model:open="open" title="End this experiment?">
    <p v-if="verdict" class="mb-3">
      The plan says: <span class="font-semibold">{{ verdict.title }}</span>
    </p>
    <InteractionWarning v-if="open" class="mb-3" :sheet="sheet" />
    <fieldset class="flex flex-col gap-1.5">
      <legend class="mb-1 text-sm font-medium">Keep</legend>
      <label v-for="(variant, position) in sheet.variants" :key="variant.id" class="flex items-center gap-2">
        <input v-model="kept" type="radio" name="kept" :value="variant.id" class="accent-accent" />
        <VariantMark :position="position" /> {{ variant.name }}
        <span v-if="position === 0" class="text-ink-soft">the original</span>
      </label>
      <label class="flex items-center gap-2">
        <input v-model="kept" type="radio" name="kept" :value="NONE" class="accent-accent" />
        No decision
      </label>
      <p v-if="errors.kept" class="text-sm text-rust" role="alert">{{ errors.kept }}</p>
    </fieldset>
    <LabeledField v-slot="{ id, invalid, describedBy }" class="mt-3" label="Why" :error="errors.reason">
      <textarea
        :id="id"
        v-model="reason"
        class="field"
        rows="2"
        :aria-invalid="invalid"
        :aria-describedby="describedBy"
      />
    </LabeledField>
    <fieldset v-if="isChange" class="mt-3 flex flex-col gap-1.5">
      <legend class="mb-1 text-sm font-medium">From now on visitors see</legend>
      <label class="flex items-center gap-2">
        <input v-model="rollsOut" type="radio" name="served" :value="true" class="accent-accent" />
        {{ chosen!.name }}: Vetch rolls it out
      </label>
      <div v-if="rollsOut" class="mb-1 ml-6 flex flex-wrap gap-x-8 gap-y-3">
        <RolloutReach
          v-model:share="reach.share"
          v-model:is-for-everybody="reach.isForEverybody"
          :has-audience="sheet.audience !== null"
          :errors="errors"
        />
        <ShareField
          v-model="reach.heldBack"
          label="Held back"
          class="max-w-52"
          hint="Some of the control go on seeing the original, so that the effect is known."
          :error="errors.heldBack"
        />
      </div>
      <label class="flex items-center gap-2">
        <input v-model="rollsOut" type="radio" name="served" :value="false" class="accent-accent" />
        the original, until the site itself is changed
      </label>
    </fieldset>
    <p class="mt-3 text-sm text-ink-soft">
      {{
        isRolledOut ? 'No more visitors are counted.' : 'Everybody sees the original, and no more visitors are counted.'
      }}
      An ended experiment cannot be started again; a copy of it can.
    </p>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      <BaseButton kind="main" @click="end">{{ isRolledOut ? 'End and roll out' : 'End' }}</BaseButton>
    </template>
  </PlainDialog>
</template>
