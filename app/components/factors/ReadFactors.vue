<script setup lang="ts">
import type { SheetFactor } from '~~/core/sheet/content'

/** The factors of a test that has started: what each level changes. */
defineProps<{ factors: readonly SheetFactor[] }>()
</script>

<template>
  <dl class="flex flex-col gap-4">
    <div v-for="factor in factors" :key="factor.id" class="border-l-2 border-line-strong pl-4">
      <dt class="font-medium">{{ factor.name }}</dt>
      <dd
        v-for="(level, place) in factor.levels"
        :key="level.id"
        class="grid gap-x-4 border-b border-line py-2 last:border-b-0 sm:grid-cols-[12rem_1fr]"
      >
        <span>{{ level.name }}</span>
        <p v-if="place === 0" class="text-ink-soft">The page as it is.</p>
        <ul v-else class="flex flex-col gap-2">
          <li v-for="edit in level.edits" :key="edit.id"><EditSummary :edit="edit" /></li>
        </ul>
      </dd>
    </div>
  </dl>
</template>
