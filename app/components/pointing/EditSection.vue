<script setup lang="ts">
import { ChevronDownIcon } from '@heroicons/vue/20/solid'

/** One way to change the element. Whether it is open is remembered. */
const props = defineProps<{ title: string; name: string; isChanged?: boolean; isFirst?: boolean }>()
const open = useLocalStorage(`vetch:pointing:${props.name}`, props.isFirst ?? false)
</script>

<template>
  <section class="border-t border-line">
    <h3>
      <button
        type="button"
        class="flex w-full items-center gap-2 py-2 text-left"
        :aria-expanded="open"
        @click="open = !open"
      >
        <ChevronDownIcon class="size-4 transition-transform" :class="{ '-rotate-90': !open }" aria-hidden="true" />
        {{ title }}
        <span v-if="isChanged" class="ml-auto text-sm font-normal text-accent">changed</span>
      </button>
    </h3>
    <div v-if="open" class="flex flex-col gap-3 pb-4"><slot /></div>
  </section>
</template>
