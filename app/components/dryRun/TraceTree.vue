<script setup lang="ts">
import { conditionInWords, type ConditionNames } from '~~/core/targeting/conditionWords'
import type { Trace } from '~~/core/targeting/trace'

/** Why conditions hold or not: each of them with what was found. */
const props = defineProps<{ trace: Trace; names?: ConditionNames }>()
const JOINS = { all: 'all of', any: 'any of', none: 'none of' }
const words = computed(() =>
  'test' in props.trace ? conditionInWords(props.trace.test, props.names) : JOINS[props.trace.join],
)
const found = computed(() => {
  if (!('test' in props.trace)) return ''
  const { found: value, problem } = props.trace
  if (problem === 'unknown') return 'not known'
  if (problem === 'gone') return 'the audience is gone'
  const text = typeof value === 'boolean' ? (value ? 'yes' : 'no') : JSON.stringify(value)
  return problem === 'type' ? `found ${text}, of another type` : `found ${text}`
})
</script>

<template>
  <div class="text-sm">
    <p>
      <span :class="trace.holds ? 'text-pine' : 'text-rust'">{{ trace.holds ? '✓ holds' : '✕ does not hold' }}</span>
      {{ words }}<span v-if="found" class="text-ink-soft">, {{ found }}</span>
    </p>
    <ul v-if="'of' in trace" class="ml-1 border-l border-line pl-3">
      <li v-for="(each, index) in trace.of" :key="index"><TraceTree :trace="each" :names="names" /></li>
    </ul>
    <TraceTree
      v-else-if="trace.audience"
      class="ml-1 border-l border-line pl-3"
      :trace="trace.audience"
      :names="names"
    />
  </div>
</template>
