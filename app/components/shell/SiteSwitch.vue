<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { ChevronUpDownIcon } from '@heroicons/vue/20/solid'

const props = defineProps<{ siteId: number }>()
const account = useAccountStore()
const current = computed(() => account.site(props.siteId))
const choose = (id: number) => navigateTo(id === 0 ? '/sites/new' : `/sites/${id}/today`)
</script>

<template>
  <Listbox as="div" class="relative" :model-value="siteId" @update:model-value="choose">
    <ListboxButton
      class="flex w-full items-center gap-2 rounded px-1 py-1 text-left hover:bg-neutral-soft"
      aria-label="Site in use"
    >
      <img src="/icon.svg" alt="" class="size-7 shrink-0" />
      <span class="min-w-0 flex-1 text-sm leading-tight font-semibold">{{ current?.name ?? 'Vetch' }}</span>
      <ChevronUpDownIcon class="size-4 shrink-0 text-ink-soft" aria-hidden="true" />
    </ListboxButton>
    <ListboxOptions class="absolute z-20 mt-1 w-64 rounded border border-line-strong bg-raised py-1">
      <ListboxOption
        v-for="site in account.view?.sites ?? []"
        :key="site.id"
        v-slot="{ active }"
        :value="site.id"
        as="template"
      >
        <li class="cursor-pointer px-3 py-1.5" :class="{ 'bg-accent-soft': active }">
          {{ site.name }} <span class="block text-xs text-ink-soft">{{ site.address }}</span>
        </li>
      </ListboxOption>
      <ListboxOption v-if="account.view?.mayAddSites" v-slot="{ active }" :value="0" as="template">
        <li class="cursor-pointer border-t border-line px-3 py-1.5" :class="{ 'bg-accent-soft': active }">
          Add a site …
        </li>
      </ListboxOption>
    </ListboxOptions>
  </Listbox>
</template>
