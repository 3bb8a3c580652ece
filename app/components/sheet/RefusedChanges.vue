<script setup lang="ts">
import { describeChange } from '~~/core/sheet/describeChange'
import type { RefusedChange } from '~/sheets/sheetWork'

/** Changes that the server did not take, until they are made again or thrown away. */
const store = useSheetStore()
const notices = useNoticesStore()
const work = computed(() => store.work!)

function drop({ id }: RefusedChange): void {
  work.value.kept.refused = work.value.kept.refused.filter((each) => each.id !== id)
}
function again(refused: RefusedChange): void {
  try {
    work.value.make(refused.change)
    drop(refused)
  } catch (error) {
    notices.show((error as Error).message, { tone: 'problem' })
  }
}
</script>

<template>
  <ul v-if="work.kept.refused.length > 0" class="mt-2 flex flex-col gap-2 border-l-2 border-rust pl-3 text-sm">
    <li v-for="refused in work.kept.refused" :key="refused.id">
      <p>
        <span class="font-medium">Not saved:</span> {{ describeChange(work.content.value!, refused.change) }}.
        {{ refused.reason }}
      </p>
      <p class="flex gap-4">
        <button type="button" class="font-medium text-accent underline" @click="again(refused)">Try again</button>
        <button type="button" class="font-medium text-accent underline" @click="drop(refused)">Discard</button>
      </p>
    </li>
  </ul>
</template>
