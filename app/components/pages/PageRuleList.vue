<script setup lang="ts">
import { beginningPath, type PageRule } from '~~/core/targeting/pageRule'
import { pageRulesInWords } from '~~/core/targeting/pageWords'

/** Pages, by rules on their addresses. */
const props = defineProps<{ siteId: number; error?: string }>()
const rules = defineModel<PageRule[]>({ required: true })
const change = (index: number, changes: Partial<PageRule>) =>
  (rules.value = rules.value.map((rule, at) => (at === index ? { ...rule, ...changes } : rule)))
const remove = (index: number) => (rules.value = rules.value.filter((_, at) => at !== index))
const isEverywhere = computed(
  () =>
    rules.value.some((rule) => beginningPath(rule) === '/' && rule.match === 'begins') &&
    !rules.value.some(({ isExcluded }) => isExcluded),
)
</script>

<template>
  <div class="flex flex-col gap-2">
    <PageRuleFields
      v-for="(rule, index) in rules"
      :key="index"
      class="max-w-2xl"
      :rule="rule"
      :error="index === 0 ? error : undefined"
      @change="change(index, $event)"
    >
      <BaseButton
        v-if="rules.length > 1"
        kind="quiet"
        :aria-label="`Remove the address ${rule.value}`"
        @click="remove(index)"
        >Remove</BaseButton
      >
    </PageRuleFields>
    <p class="text-sm text-ink-soft">
      {{ isEverywhere ? 'All pages.' : `Pages: ${pageRulesInWords(rules)}.` }}
      <button
        type="button"
        class="ml-2 text-accent underline"
        @click="rules = [...rules, { match: 'begins', value: '' }]"
      >
        Add an address
      </button>
    </p>
    <OccurredAddresses class="max-w-2xl" :site-id="props.siteId" :rules="rules" may-edit @use="rules = $event" />
  </div>
</template>
