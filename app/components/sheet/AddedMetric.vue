<script setup lang="ts">
import type { SheetMetric } from '~~/core/sheet/content'
import { blankMetric } from '~/sheets/freshThings'

/** A metric that joins a started experiment: computed for the visitors that were, it explains and does not decide. */
const store = useSheetStore()
const notices = useNoticesStore()
const isOpen = ref(false)
const errors = ref<Record<string, string>>({})

const empty = () => ({ ...blankMetric('secondary'), source: { type: 'click' as const, selector: '' } })
const state = (field: string): FieldState => ({
  errors: below(errors.value, `metric.${field}`),
  isUnsaved: false,
  conflict: null,
})
const metric = ref<SheetMetric>(empty())

async function add(): Promise<void> {
  errors.value = {}
  try {
    await store.addMetric(JSON.parse(JSON.stringify(metric.value)) as SheetMetric)
    notices.show(`Added ${metric.value.name}. It is computed for all visitors so far.`)
    metric.value = empty()
    isOpen.value = false
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    errors.value = error.fields
    notices.show(error.message, { tone: 'problem' })
  }
}
</script>

<template>
  <div>
    <BaseButton v-if="!isOpen" kind="quiet" class="-ml-3" @click="isOpen = true">Add a secondary metric …</BaseButton>
    <form v-else class="border-l-4 border-line-strong py-2 pl-4" novalidate @submit.prevent="add">
      <p class="mb-3 text-sm text-ink-soft">
        What visitors did before counts too: views, clicks, forms and events of the page’s code are kept.
      </p>
      <MetricFields v-model="metric" :state="state" :has-role="false" />
      <div class="mt-4 flex gap-2">
        <BaseButton type="submit">Add the metric</BaseButton
        ><BaseButton kind="quiet" @click="isOpen = false">Cancel</BaseButton>
      </div>
    </form>
  </div>
</template>
