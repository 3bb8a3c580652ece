<script setup lang="ts">
import { CROSSINGS } from '../../site/crossings'
import { inEuro } from './party'
</script>

<template>
  <h1>Where would you like to go?</h1>
  <RouterLink
    v-for="{ slug, island, adult, sailings } in CROSSINGS"
    :id="`to-${slug}`"
    :key="slug"
    class="island"
    :to="`/to/${slug}`"
  >
    <strong>{{ island }}</strong>
    <span>{{ sailings.join(' · ') }}</span>
    <span>from {{ inEuro(adult) }}</span>
  </RouterLink>
</template>
