<script setup lang="ts">
import { idleRules, judgeAddresses } from '~~/core/targeting/addressReport'
import type { PageRule } from '~~/core/targeting/pageRule'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import { rulesFromExamples } from '~~/core/targeting/ruleFromExamples'

/** The addresses that really occurred: which of them rules let in, and rules made from examples. */
const props = defineProps<{ siteId: number; rules: readonly PageRule[]; mayEdit?: boolean }>()
const emit = defineEmits<{ use: [rules: PageRule[]] }>()
const api = useApi()
const { value: occurred, problem, reload } = useLoaded(() => api('listAddresses', { site: props.siteId }))
const rules = computed(() => props.rules.filter(({ value, match }) => value.trim() !== '' || match === 'present'))
const judged = computed(() => judgeAddresses(rules.value, occurred.value?.addresses ?? []))
const included = computed(() => judged.value.filter(({ isIn }) => isIn))
const idle = computed(() => idleRules(rules.value, occurred.value?.addresses ?? []))
const aDay = computed(() => included.value.reduce((sum, { visitors }) => sum + visitors, 0))

const isOpen = ref(false)
const search = ref('')
const AT_ONCE = 12
const most = ref(AT_ONCE)
const found = computed(() => judged.value.filter(({ address }) => address.includes(search.value.trim())))
watch(search, () => (most.value = AT_ONCE))

/** Addresses marked as examples. */
const marks = ref(new Map<string, 'in' | 'out'>())
function mark(address: string, as: 'in' | 'out'): void {
  if (marks.value.get(address) === as) marks.value.delete(address)
  else marks.value.set(address, as)
}
const markedAs = (as: 'in' | 'out') => [...marks.value].filter(([, each]) => each === as).map(([address]) => address)
const proposals = computed(() =>
  rulesFromExamples(
    markedAs('in'),
    markedAs('out'),
    judged.value.map(({ address }) => address),
  ),
)
function use(proposed: PageRule[]): void {
  marks.value.clear()
  emit('use', proposed)
}
const shortened = (address: string) => {
  const { host, pathname, search: query } = new URL(address)
  return host === occurred.value?.host ? pathname + query : address
}
</script>

<template>
  <section aria-label="Addresses of visitors" class="flex flex-col gap-2">
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="!occurred" class="text-sm text-ink-soft">Looking up the addresses of the last four weeks …</p>
    <p v-else-if="judged.length === 0" class="text-sm text-ink-soft">
      No address has occurred in the last four weeks. Rules can be tried once visitors come.
    </p>
    <template v-else>
      <p class="text-sm text-ink-soft" aria-live="polite">
        {{ included.length }} of {{ judged.length }} addresses of the last four weeks are in, with
        {{ formatCount(Math.round(aDay)) }} visitors a day, counted on each address.
        <button type="button" class="ml-1 text-accent underline" :aria-expanded="isOpen" @click="isOpen = !isOpen">
          {{ isOpen ? 'Hide them' : 'Show them' }}
        </button>
      </p>
      <p v-for="each in idle" :key="each.rule" class="text-sm text-rust">
        {{ pageRulesInWords([{ ...rules[each.rule]!, isExcluded: false }]) }}: {{ each.text }}
      </p>
    </template>
    <div v-if="isOpen && judged.length > 0" class="flex flex-col gap-2 border-l-2 border-line pl-3">
      <div v-if="markedAs('in').length > 0" aria-label="Rules from the examples" role="group">
        <p v-if="proposals.length === 0" class="text-rust">
          No short rule separates these. Mark fewer, or write a rule for each.
        </p>
        <div v-for="(each, index) in proposals" :key="index" class="flex items-baseline gap-3 py-1">
          <span class="min-w-0 flex-1">
            {{ pageRulesInWords(each.rules) }}
            <span class="block text-ink-soft">{{
              each.others.length === 0
                ? 'Matches no other address of visitors.'
                : `Lets in ${each.others.length} more: ${each.others.slice(0, 3).map(shortened).join(', ')}${each.others.length > 3 ? ' …' : ''}`
            }}</span>
          </span>
          <BaseButton @click="use(each.rules)">Use it</BaseButton>
        </div>
      </div>
      <p v-else-if="mayEdit" class="text-sm text-ink-soft">
        Mark some addresses as in and others as out. Vetch proposes rules for them.
      </p>
      <TextField v-model="search" class="max-w-xs" label="Search addresses" />
      <table class="w-full text-sm">
        <thead>
          <tr class="border-b border-line text-left text-ink-soft">
            <th class="py-1 font-medium">Address</th>
            <th class="px-2 text-right font-medium">Visitors a day</th>
            <th class="px-2 font-medium">By the rules</th>
            <th v-if="mayEdit" class="font-medium">As an example</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in found.slice(0, most)" :key="each.address" class="border-b border-line">
            <td class="py-1 font-mono text-xs break-all">{{ shortened(each.address) }}</td>
            <td class="px-2 text-right tabular-nums">
              {{ each.visitors < 1 ? 'below 1' : formatCount(Math.round(each.visitors)) }}
            </td>
            <td class="px-2">
              <strong v-if="each.isIn" class="font-medium">in</strong>
              <span v-else class="text-ink-soft">out</span>
              <span v-if="each.by !== null && rules.length > 1" class="text-ink-soft">, rule {{ each.by + 1 }}</span>
            </td>
            <td v-if="mayEdit" class="whitespace-nowrap">
              <BaseButton
                v-for="as in ['in', 'out'] as const"
                :key="as"
                kind="quiet"
                :aria-pressed="marks.get(each.address) === as"
                :aria-label="`${shortened(each.address)} shall be ${as}`"
                :class="marks.get(each.address) === as ? 'font-semibold underline' : ''"
                @click="mark(each.address, as)"
                >{{ as }}</BaseButton
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="found.length === 0" class="text-ink-soft">No address contains this.</p>
      <BaseButton v-if="found.length > most" class="self-start" kind="quiet" @click="most += 50"
        >Show more of {{ found.length }}</BaseButton
      >
    </div>
  </section>
</template>
