<script setup lang="ts">
import { CAUSE_WORDS, SPLIT_CAUSES, type SplitCause } from '~~/core/traffic/splitCauses'
import { messagesByField } from '~~/shared/api/messagesByField'
import type { ExperimentSheet } from '~~/shared/experiments/replies'
import type { SplitView } from '~~/shared/experiments/resultsReplies'
import { splitSettlementSchema } from '~~/shared/experiments/splitSettlement'

/** The cause of a split that is off: named by somebody, or to be named. */
const props = defineProps<{ sheet: ExperimentSheet; mayEdit: boolean; causes: SplitView['causes'] }>()
const store = useSheetStore()
const notices = useNoticesStore()
type Cause = SplitCause | 'other' | ''
const draft = reactive({ cause: '' as Cause, words: '' })
const errors = ref<Record<string, string>>({})
const isBusy = ref(false)
const choices = computed<{ value: Cause; label: string }[]>(() => [
  { value: '', label: 'Choose …' },
  ...SPLIT_CAUSES.map((value) => ({ value, label: CAUSE_WORDS[value].title })),
  { value: 'other', label: 'Something else' },
])
const title = computed(() => {
  const { cause } = props.sheet.splitSettlement ?? {}
  return !cause || cause === 'other' ? 'Something else' : CAUSE_WORDS[cause].title
})

async function attempt(change: () => Promise<unknown>, done: string): Promise<void> {
  isBusy.value = true
  try {
    await change()
    notices.show(done)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    notices.show(error.message, { tone: 'problem' })
  } finally {
    isBusy.value = false
  }
}
async function settle(act: 'name' | 'restart'): Promise<void> {
  const body = { ...draft, act }
  errors.value = messagesByField(splitSettlementSchema, body)
  if (Object.keys(errors.value).length > 0) return
  await attempt(
    async () => {
      const copy = await store.settleSplit(splitSettlementSchema.validateSync(body))
      Object.assign(draft, { cause: '', words: '' })
      if (copy !== null) await navigateTo(`/sites/${props.sheet.siteId}/experiments/${copy}`)
    },
    act === 'restart' ? 'Ended, and copied as a new draft. Check it, then start it.' : 'Saved. Today asks no more.',
  )
}
</script>

<template>
  <div class="border-t border-line pt-3 text-sm" data-testid="split-settlement">
    <h4 class="mb-1 font-semibold">The cause</h4>
    <template v-if="sheet.splitSettlement">
      <p>{{ title }}: {{ sheet.splitSettlement.words }}</p>
      <p class="text-ink-soft">
        {{ sheet.splitSettlement.person ?? 'A program' }}, {{ formatTime(sheet.splitSettlement.at, sheet.timeZone) }}.
        Today asks again if the split of later days is off.
      </p>
      <BaseButton
        v-if="mayEdit"
        kind="quiet"
        :disabled="isBusy"
        @click="attempt(store.reopenSplit, 'Withdrawn. Today asks again.')"
        >Withdraw</BaseButton
      >
    </template>
    <form v-else-if="mayEdit" class="flex max-w-2xl flex-col gap-3" novalidate @submit.prevent="settle('name')">
      <p class="text-ink-soft">
        Name the cause once you know it. Leave out the visitors it concerns, or restart the experiment as a copy.
      </p>
      <ChoiceField v-model="draft.cause" label="Cause" :choices="choices" :error="errors.cause" />
      <LabeledField v-slot="{ id, invalid, describedBy }" label="What you found" :error="errors.words">
        <textarea
          :id="id"
          v-model="draft.words"
          class="field"
          rows="2"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
        />
      </LabeledField>
      <div class="flex flex-wrap gap-2">
        <BaseButton type="submit" :disabled="isBusy">Save the cause</BaseButton>
        <AskFirst
          v-if="sheet.state !== 'ended'"
          label="End and restart as a copy"
          title="End this experiment and restart it?"
          text="Everybody sees the original. A draft like this one opens: check it, then start it with new visitors."
          :disabled="isBusy"
          @confirm="settle('restart')"
        />
      </div>
    </form>
    <p v-else class="text-ink-soft">Nobody has named it yet.</p>
  </div>
</template>
