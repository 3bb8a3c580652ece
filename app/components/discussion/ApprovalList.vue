<script setup lang="ts">
import type { ApprovalView } from '~~/shared/experiments/reviewReplies'

/** Who was asked, and what they said. */
defineProps<{ approvals: readonly ApprovalView[]; timeZone: string; mayAsk: boolean }>()
const emit = defineEmits<{ ask: [person: number]; withdraw: [approval: number] }>()
function inWords({ answer, isOutdated }: ApprovalView): string {
  if (answer === null) return 'has not answered yet'
  if (answer === 'changes') return 'asks for changes'
  return isOutdated ? 'approved, before the last changes' : 'approves'
}
</script>

<template>
  <ul class="flex flex-col" aria-label="Approvals">
    <li v-for="each in approvals" :key="each.id" class="border-b border-line py-2">
      <div class="flex flex-wrap items-baseline gap-x-3">
        <p>
          <span class="font-medium">{{ each.person }}</span>
          {{ ' ' }}
          <span
            :class="
              each.answer === 'changes'
                ? 'font-medium text-rust'
                : each.answer === 'approved' && !each.isOutdated
                  ? 'font-medium text-pine'
                  : 'text-ink-soft'
            "
            ><span aria-hidden="true">{{
              each.answer === 'changes' ? '✗' : each.answer === 'approved' && !each.isOutdated ? '✓' : '…'
            }}</span>
            {{ inWords(each) }}</span
          >
        </p>
        <span class="text-sm text-ink-soft">{{ formatTime(each.answeredAt ?? each.askedAt, timeZone) }}</span>
        <span v-if="mayAsk" class="ml-auto flex gap-1">
          <BaseButton
            v-if="each.answer !== null"
            kind="quiet"
            :aria-label="`Ask ${each.person} again`"
            @click="emit('ask', each.personId)"
            >Ask again</BaseButton
          >
          <BaseButton
            kind="quiet"
            :aria-label="`Withdraw the request to ${each.person}`"
            @click="emit('withdraw', each.id)"
            >Withdraw</BaseButton
          >
        </span>
      </div>
      <p v-if="each.words" class="mt-1 max-w-[70ch] break-words whitespace-pre-line">{{ each.words }}</p>
    </li>
  </ul>
</template>
