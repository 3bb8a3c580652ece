<script setup lang="ts">
import type { TodayItem } from '~~/shared/site'

useHead({ title: 'Today · Vetch' })
const api = useApi()
const route = useRoute('sites-site-today')
const { value: items, problem, reload } = useLoaded(() => api('readToday', { site: Number(route.params.site) }))

const KINDS: Record<TodayItem['kind'], { label: string; class: string }> = {
  allocation: { label: '✕ Broken', class: 'text-rust' },
  silent: { label: '✕ Silent', class: 'text-rust' },
  'set-aside': { label: '! Set aside', class: 'text-rust' },
  verdict: { label: '◆ Verdict', class: 'text-pine' },
  install: { label: '! Install', class: 'text-rust' },
  draft: { label: '✎ Draft', class: 'text-ink-soft' },
}
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <header class="mb-6">
      <h1>Today</h1>
      <p class="text-ink-soft">What needs a person now.</p>
    </header>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <p v-else-if="!items" class="text-ink-soft">Loading …</p>
    <div v-else-if="items.length === 0">
      <p class="mb-4">Nothing needs you now. Running tests are sound and no verdict is due.</p>
      <NuxtLink :to="`/sites/${route.params.site}/experiments?new`" class="font-medium text-accent underline"
        >Draft the next experiment</NuxtLink
      >
    </div>
    <ul v-else class="border-t border-line">
      <li v-for="item in items" :key="item.title" class="border-b border-line">
        <NuxtLink
          :to="item.link"
          class="grid gap-x-6 gap-y-1 px-2 py-3.5 hover:bg-neutral-soft sm:grid-cols-[6rem_1fr]"
        >
          <span class="text-sm font-medium" :class="KINDS[item.kind].class">{{ KINDS[item.kind].label }}</span>
          <span>
            <span class="block font-semibold">{{ item.title }}</span>
            <span class="block max-w-[72ch] text-ink-soft">{{ item.text }}</span>
          </span>
        </NuxtLink>
      </li>
    </ul>
  </div>
</template>
