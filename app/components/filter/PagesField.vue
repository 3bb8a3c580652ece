<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import { isPlainRule, type PageMatch, type PageRule } from '~~/core/targeting/pageRule'
import { regexProblem } from '~~/core/targeting/regexProblem'
import { pageText, readPage } from '~~/shared/evidence/filter'

/** Pages by their address; all of them while nothing is typed. Rules that are not plain are written behind a button. */
defineProps<{ label: string; pages: readonly string[] }>()
/** As it stands in the address of the view; empty for all pages. */
const page = defineModel<string>({ required: true })
const MATCHES: { value: PageMatch; label: string }[] = [
  { value: 'begins', label: 'begins with' },
  { value: 'exact', label: 'is' },
  { value: 'contains', label: 'contains' },
]
const known = computed(() => (page.value ? readPage(page.value) : null))
const blank = (): PageRule => ({ match: 'begins', value: '' })
const draft = ref<PageRule>(known.value ?? blank())
watch(known, (rule) => {
  draft.value = rule ? { ...rule } : { ...blank(), match: draft.value.match }
})
const isPlain = computed(() => isPlainRule(draft.value))
const problem = ref<string>()
const listId = useId()
const change = (changes: Partial<PageRule>) => (draft.value = { ...draft.value, ...changes })

function commit(): void {
  const value = draft.value.value.trim()
  problem.value = undefined
  if (value === '' && draft.value.match !== 'present') {
    page.value = ''
    return
  }
  const text = pageText({ ...draft.value, value })
  if (readPage(text)) page.value = text
  else problem.value = wrong({ ...draft.value, value })
}
function wrong({ match, value, part, parameter }: PageRule): string {
  if (part === 'parameter' && !parameter) return 'Name the parameter.'
  return (match === 'regex' ? regexProblem(value) : null) ?? 'Begin with a slash, such as /book.'
}
function all(): void {
  draft.value = blank()
  commit()
}
</script>

<template>
  <LabeledField v-slot="{ id, invalid, describedBy }" :label="label" :error="problem">
    <span class="flex flex-wrap gap-1.5">
      <template v-if="isPlain">
        <select v-model="draft.match" class="field w-32" aria-label="How the address is compared" @change="commit">
          <option v-for="each in MATCHES" :key="each.value" :value="each.value">{{ each.label }}</option>
        </select>
        <input
          :id="id"
          v-model="draft.value"
          class="field w-36"
          placeholder="all pages"
          :list="listId"
          :aria-invalid="invalid"
          :aria-describedby="describedBy"
          @change="commit"
        />
        <datalist :id="listId"><option v-for="each in pages" :key="each" :value="each" /></datalist>
      </template>
      <span v-else :id="id" class="field w-80 truncate" :title="pageRulesInWords([draft])">{{
        pageRulesInWords([draft])
      }}</span>
      <Popover class="relative">
        <PopoverButton
          class="rounded px-2 py-1.5 text-sm font-medium text-ink-soft hover:text-ink hover:underline"
          aria-label="Advanced"
          >Advanced</PopoverButton
        >
        <PopoverPanel
          class="absolute left-0 z-30 mt-1 flex w-[min(36rem,90vw)] flex-col gap-3 rounded border border-line-strong bg-raised p-3"
        >
          <PageRuleFields is-single :rule="draft" :error="problem" @change="change" @commit="commit" />
          <div><BaseButton class="-ml-3" kind="quiet" @click="all">All pages</BaseButton></div>
        </PopoverPanel>
      </Popover>
    </span>
  </LabeledField>
</template>
