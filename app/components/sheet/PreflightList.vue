<script setup lang="ts">
import type { PreflightFinding } from '~~/core/preflight/preflight'

/** What keeps a draft from starting, and what is worth knowing before it does. */
const props = defineProps<{ findings: readonly PreflightFinding[]; isLooking: boolean; problem: string | null }>()
const stops = computed(() => props.findings.filter(({ isStop }) => isStop))
const told = computed(() => props.findings.filter(({ isStop }) => !isStop))
</script>

<template>
  <div class="flex flex-col gap-4" data-testid="preflight">
    <div>
      <h3 class="mb-1.5">Before the start</h3>
      <ul v-if="stops.length > 0" class="flex flex-col gap-2 text-sm">
        <li v-for="finding in stops" :key="finding.text">
          <a :href="`#${finding.section}`" class="block border-l-2 border-rust pl-3 break-words hover:underline">{{
            finding.text
          }}</a>
        </li>
      </ul>
      <p v-else-if="!isLooking" class="border-l-2 border-pine pl-3 text-sm">
        Nothing is missing. Starting freezes variants, page, metrics and plan.
      </p>
      <p v-if="isLooking" class="mt-2 text-sm text-ink-soft">Checking pages and traffic …</p>
      <p v-if="problem" class="mt-2 text-sm text-rust" role="alert">
        Pages and traffic could not be checked. {{ problem }}
      </p>
    </div>
    <div v-if="told.length > 0">
      <h3 class="mb-1.5">Worth knowing</h3>
      <ul class="flex flex-col gap-2 text-sm">
        <li v-for="finding in told" :key="finding.text">
          <a
            :href="`#${finding.section}`"
            class="block border-l-2 border-line-strong pl-3 break-words hover:underline"
            >{{ finding.text }}</a
          >
        </li>
      </ul>
    </div>
  </div>
</template>
