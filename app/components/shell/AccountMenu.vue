<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { EllipsisVerticalIcon } from '@heroicons/vue/20/solid'

/** What stands at the foot of the rail, where there is no room for one. */
const emit = defineEmits<{ shortcuts: [] }>()
const account = useAccountStore()
const isDark = useDark()
const items = computed(() => [
  { label: account.view?.person?.name ?? 'Account', run: () => navigateTo('/account') },
  { label: isDark.value ? 'Light colors' : 'Dark colors', run: () => (isDark.value = !isDark.value) },
  { label: 'Shortcuts', run: () => emit('shortcuts') },
  { label: 'Sign out', run: () => account.signOut() },
])
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="flex size-9 items-center justify-center rounded hover:bg-neutral-soft" aria-label="Account">
      <EllipsisVerticalIcon class="size-5" aria-hidden="true" />
    </MenuButton>
    <MenuItems class="absolute right-0 z-20 mt-1 w-52 rounded border border-line-strong bg-raised py-1">
      <MenuItem v-for="item in items" :key="item.label" v-slot="{ active }">
        <button
          type="button"
          class="block w-full truncate px-3 py-2 text-left"
          :class="{ 'bg-accent-soft': active }"
          @click="item.run"
        >
          {{ item.label }}
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
