<script setup lang="ts">
import { showSurvey } from '~~/delivery/survey/surveyPanel'
import type { SurveyContent } from '~~/shared/surveys/survey'

/** A survey as visitors see it: the same that stands on pages, and goes on as they would. */
const props = defineProps<{ content: SurveyContent }>()
const place = useTemplateRef<HTMLElement>('place')
const width = ref<'phone' | 'desktop'>('desktop')
const WIDTHS = [
  { value: 'desktop', label: 'Desktop' },
  { value: 'phone', label: 'Phone' },
] as const
const isAtEnd = ref(false)
let takeAway: (() => void) | null = null

function begin(): void {
  takeAway?.()
  isAtEnd.value = false
  const { questions, thanks, words } = JSON.parse(JSON.stringify(props.content)) as SurveyContent
  if (!place.value || questions.length === 0) return
  const on = { answered: () => {}, closed: () => (isAtEnd.value = true) }
  takeAway = showSurvey({ questions, thanks, words }, on, place.value, width.value === 'phone')
}
onMounted(begin)
watch([() => JSON.stringify(props.content), width], () => nextTick(begin))
onBeforeUnmount(() => takeAway?.())
</script>

<template>
  <section aria-label="Preview" class="flex flex-col gap-2">
    <div class="flex items-center justify-between gap-3">
      <h2>Preview</h2>
      <span class="flex gap-2">
        <ButtonRow v-model="width" label="Width of the preview" :choices="WIDTHS" />
        <BaseButton kind="quiet" @click="begin">Start again</BaseButton>
      </span>
    </div>
    <!-- What is fixed to the window on a page is fixed to this box here. -->
    <div
      ref="place"
      class="relative h-120 translate-z-0 overflow-hidden rounded border border-line-strong bg-neutral-soft"
      :class="width === 'phone' ? 'w-90' : 'w-full'"
    >
      <p v-if="isAtEnd" class="p-4 text-ink-soft">It is closed. Nothing of this was counted.</p>
    </div>
  </section>
</template>
