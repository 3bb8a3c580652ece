<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { Verdict } from '~~/core/verdict/verdict'

/** Asks for the decision: which variant to keep, and why. */
const props = defineProps<{ sheet: ExperimentSheet; verdict: Verdict | null }>()
const emit = defineEmits<{ end: [variant: string | null, reason: string, rollsOut: boolean] }>()
const open = defineModel<boolean>('open', { required: true })
const kept = ref<string | undefined>()
const reason = ref('')
const errors = ref<{ kept?: string; reason?: string }>({})
const NONE = 'none'
const rollsOut = ref(false)
const isChange = computed(() => props.sheet.variants.findIndex(({ id }) => id === kept.value) > 0)

function end(): void {
  errors.value = {
    ...(kept.value === undefined ? { kept: 'Say what is kept.' } : {}),
    ...(reason.value.trim() === '' ? { reason: 'Say why, for those who come back to it.' } : {}),
  }
  if (Object.keys(errors.value).length === 0)
    emit('end', kept.value === NONE ? null : kept.value!, reason.value, isChange.value && rollsOut.value)
}
</script>

<template>
  <PlainDialog v-model:open="open" title="End this experiment?">
    <p v-if="verdict" class="mb-3">
      The plan says: <span class="font-semibold">{{ verdict.title }}</span>
    </p>
    <fieldset class="flex flex-col gap-1.5">
      <legend class="mb-1 text-sm font-medium">Kept from now on</legend>
      <label v-for="(variant, position) in sheet.variants" :key="variant.id" class="flex items-center gap-2">
        <input v-model="kept" type="radio" name="kept" :value="variant.id" class="accent-accent" />
        <VariantMark :position="position" /> {{ variant.name }}
        <span v-if="position === 0" class="text-ink-soft">the page as it is</span>
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
    <label v-if="isChange" class="mt-3 flex items-start gap-2">
      <input v-model="rollsOut" type="checkbox" class="mt-1 accent-accent" />
      <span>Roll it out at once, to all of its audience</span>
    </label>
    <p class="mt-3 text-sm text-ink-soft">
      {{
        isChange && rollsOut
          ? 'Nobody is counted any more'
          : 'Everybody will see the original again, and no more visitors are counted'
      }}. An ended experiment cannot be started again; a copy of it can.
    </p>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">{{
        sheet.state === 'paused' ? 'Not yet' : 'Keep it running'
      }}</BaseButton>
      <BaseButton kind="main" @click="end">End it</BaseButton>
    </template>
  </PlainDialog>
</template>
