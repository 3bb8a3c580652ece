<script setup lang="ts">
import type { AlarmView } from '~~/shared/watch/replies'

/** Alarms, the open ones first. */
defineProps<{
  alarms: readonly AlarmView[]
  siteId: number
  timeZone: string
  mayEdit: boolean
  /** All are of one experiment or rollout, which needs not be named. */
  isOfOne?: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
</script>

<template>
  <ul class="border-t border-line">
    <AlarmRow
      v-for="alarm in alarms"
      :key="alarm.id"
      :alarm="alarm"
      :site-id="siteId"
      :time-zone="timeZone"
      :may-edit="mayEdit"
      :is-of-one="isOfOne"
      @acknowledged="emit('changed')"
    />
  </ul>
</template>
