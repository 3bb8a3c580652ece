<script setup lang="ts">
import type { NotificationView } from '~~/shared/notifications/replies'
import { OCCURRENCE_WORDS } from '~~/core/notifications/occurrence'

/** One thing that one is told. */
defineProps<{ notification: NotificationView; siteId: number; timeZone: string }>()
</script>

<template>
  <li class="flex flex-col gap-1 border-b border-line px-2 py-3" data-testid="notification">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span v-if="!notification.isSeen" class="text-sm font-medium text-accent">New</span>
      <span class="font-medium">{{ OCCURRENCE_WORDS[notification.kind] }}</span>
      <NuxtLink class="font-semibold hover:underline" :to="`/sites/${siteId}${notification.path}`">{{
        notification.title
      }}</NuxtLink>
      <span class="text-sm text-ink-soft"
        >{{ formatTime(notification.at, timeZone) }}{{ notification.by ? `, by ${notification.by}` : '' }}</span
      >
    </p>
    <p v-if="notification.text" class="max-w-[72ch] break-words whitespace-pre-line">{{ notification.text }}</p>
  </li>
</template>
