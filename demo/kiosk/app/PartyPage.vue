<script setup lang="ts">
import { watch } from 'vue'
import CountField from './CountField.vue'
import { inEuro, party, startParty, total } from './party'

const props = defineProps<{ slug: string }>()
watch(() => props.slug, startParty, { immediate: true })
</script>

<template>
  <template v-if="party.crossing">
    <h1>Who travels to {{ party.crossing.island }}?</h1>
    <CountField v-model="party.adults" label="Adults" :least="1" />
    <CountField v-model="party.children" label="Children" :least="0" />
    <p class="total">{{ inEuro(total) }}</p>
    <p><RouterLink id="to-pay" class="button" to="/pay">Go on</RouterLink></p>
    <p><RouterLink id="other-island" to="/">Another island</RouterLink></p>
  </template>
</template>
