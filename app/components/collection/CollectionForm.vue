<script setup lang="ts">
import type { CollectionView } from '~~/shared/collection/replies'

/** What is collected beside views and clicks, as its owner chooses it. */
const props = defineProps<{ siteId: number; view: CollectionView; disabled: boolean }>()
const emit = defineEmits<{ changed: [view: CollectionView] }>()
const api = useApi()
const notices = useNoticesStore()
const asShare = (buckets: number) => buckets / 10_000
const behavior = reactive({
  share: asShare(props.view.behavior.share) as number | string | null,
  pages: props.view.behavior.pages.map((rule) => ({ ...rule })),
})
const recording = reactive({
  share: asShare(props.view.recording.share) as number | string | null,
  pages: props.view.recording.pages.map((rule) => ({ ...rule })),
  masksText: props.view.recording.masksText,
  days: String(props.view.recording.days),
  megabytes: String(props.view.recording.megabytes),
})
const { errors, isSaving, save } = useSaving()
const errorOf = (beginning: string) => Object.entries(errors.value).find(([field]) => field.startsWith(beginning))?.[1]
const inBuckets = (share: unknown) => (typeof share === 'number' ? Number((share * 10_000).toFixed(6)) : share)

const apply = () =>
  save(async () => {
    const body = {
      behavior: { ...behavior, share: inBuckets(behavior.share) },
      recording: { ...recording, share: inBuckets(recording.share) },
    }
    emit('changed', await api('updateCollection', { site: props.siteId, body }))
    notices.show('Saved. It applies from each visitor’s next page.')
  })
</script>

<template>
  <form class="flex max-w-2xl flex-col gap-6" novalidate @submit.prevent="apply">
    <fieldset class="flex flex-col gap-4" :disabled="disabled">
      <legend class="mb-2 font-semibold">Behavior</legend>
      <p class="text-sm text-ink-soft">
        How far and how long pages are read, dead clicks and rage clicks. In forms, the time in each field, and whether
        it was corrected or left empty. Never what is typed.
      </p>
      <PercentField
        v-model="behavior.share"
        class="w-56"
        label="Share of the visitors"
        hint="0 % collects none of it."
        :error="errorOf('behavior.share')"
      />
      <PageRuleList v-model="behavior.pages" :site-id="siteId" :error="errorOf('behavior.pages')" />
    </fieldset>
    <fieldset class="flex flex-col gap-4" :disabled="disabled">
      <legend class="mb-2 font-semibold">Session recordings</legend>
      <p class="text-sm text-ink-soft">
        What the page showed, and what visitors did on it, to be played again. What inputs hold is replaced before
        anything leaves the browser, and so is every element with the attribute
        <code class="font-mono text-xs">data-vetch-mask</code>; one with
        <code class="font-mono text-xs">data-vetch-block</code> is left out.
      </p>
      <PercentField
        v-model="recording.share"
        class="w-56"
        label="Share of the visitors who are recorded"
        hint="0 % records nobody."
        :error="errorOf('recording.share')"
      />
      <PageRuleList v-model="recording.pages" :site-id="siteId" :error="errorOf('recording.pages')" />
      <label class="flex items-start gap-2">
        <input v-model="recording.masksText" type="checkbox" class="mt-1 accent-accent" />
        <span>Replace texts as well, not only what inputs hold</span>
      </label>
      <div class="flex flex-wrap gap-4">
        <TextField
          v-model="recording.days"
          class="w-44"
          label="Kept for"
          numeric
          unit="days"
          :error="errorOf('recording.days')"
        />
        <TextField
          v-model="recording.megabytes"
          class="w-48"
          label="All together at most"
          hint="The oldest go first."
          numeric
          unit="MB"
          :error="errorOf('recording.megabytes')"
        />
      </div>
    </fieldset>
    <div v-if="!disabled">
      <BaseButton type="submit" :disabled="isSaving">{{ isSaving ? 'Saving …' : 'Save' }}</BaseButton>
    </div>
    <p v-else class="text-sm text-ink-soft">Only owners change these.</p>
  </form>
</template>
