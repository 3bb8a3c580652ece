<script setup lang="ts">
import type { ExperimentSheet } from '~~/shared/experiments/replies'

/** Drafts a personalization from a variant, while the experiment goes on. */
const props = defineProps<{ sheet: ExperimentSheet }>()
const open = defineModel<boolean>('open', { required: true })
const api = useApi()
const chosen = ref(props.sheet.variants[1]?.id)
const { errors, isSaving, save } = useSaving()
const draft = () =>
  save(async () => {
    const body = { variant: chosen.value! }
    const made = await api('draftPersonalization', { site: props.sheet.siteId, experiment: props.sheet.id, body })
    await navigateTo(`/sites/${made.siteId}/experiments/${made.id}`)
  })
</script>

<template>
  <PlainDialog v-model:open="open" title="Draft a personalization?">
    <form id="draft-personalization" novalidate @submit.prevent="draft">
      <fieldset class="flex flex-col gap-1.5">
        <legend class="mb-1 text-sm font-medium">Serve</legend>
        <template v-for="(variant, position) in sheet.variants" :key="variant.id">
          <label v-if="position > 0" class="flex items-center gap-2">
            <input v-model="chosen" type="radio" name="served" :value="variant.id" class="accent-accent" />
            <VariantMark :position="position" /> {{ variant.name }}
          </label>
        </template>
        <p v-if="errors.variant" class="text-sm text-rust" role="alert">{{ errors.variant }}</p>
      </fieldset>
      <p class="mt-3 text-sm text-ink-soft">
        Its pages, audience and metrics go along. This experiment stays as it is, and nothing is served before you start
        it.
      </p>
    </form>
    <template #actions>
      <BaseButton kind="quiet" @click="open = false">Cancel</BaseButton>
      <BaseButton kind="main" type="submit" form="draft-personalization" :disabled="isSaving"
        >Make the draft</BaseButton
      >
    </template>
  </PlainDialog>
</template>
