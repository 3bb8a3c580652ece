<script setup lang="ts">
import { roundMoney } from '~/data/ideaWords'
import type { ShippedWorth } from '~~/shared/hypotheses/replies'

/** What is served is worth in a month by its own measurement, and how much of such promises a holdout has found. */
const props = defineProps<{ siteId: number; worth: ShippedWorth }>()
/** Three digits that count: more are not known. */
const amount = (money: number) => roundMoney(Number(money.toPrecision(3)), props.worth.currency)
</script>

<template>
  <span class="block text-ink-soft" data-testid="worth"
    >{{ amount(worth.expected) }} a month ({{ amount(worth.low) }} to {{ amount(worth.high) }})<template
      v-if="worth.delivered"
      >; {{ amount(worth.expected * worth.delivered.share) }} by the holdout
      <NuxtLink
        :to="`/sites/${siteId}/experiments/holdouts/${worth.delivered.holdout}`"
        class="underline hover:text-ink"
        >{{ worth.delivered.name }}</NuxtLink>, which shows {{ formatShare(worth.delivered.share, 0) }} of what was
      promised</template
    ></span
  >
</template>
