<script setup lang="ts">
import { BeakerIcon, Cog6ToothIcon, EyeIcon, LightBulbIcon, RocketLaunchIcon, SunIcon } from '@heroicons/vue/24/outline'

const props = defineProps<{ siteId: number }>()
const emit = defineEmits<{ palette: []; shortcuts: [] }>()
const account = useAccountStore()
const isDark = useDark()
const places = computed(() => [
  { label: 'Today', to: `/sites/${props.siteId}/today`, icon: SunIcon },
  {
    label: 'Evidence',
    to: `/sites/${props.siteId}/evidence/pages`,
    area: `/sites/${props.siteId}/evidence`,
    icon: EyeIcon,
  },
  {
    label: 'Hypotheses',
    to: `/sites/${props.siteId}/hypotheses/list`,
    area: `/sites/${props.siteId}/hypotheses`,
    icon: LightBulbIcon,
  },
  { label: 'Experiments', to: `/sites/${props.siteId}/experiments`, icon: BeakerIcon },
  { label: 'Rollouts', to: `/sites/${props.siteId}/rollouts`, icon: RocketLaunchIcon },
  {
    label: 'Setup',
    to: `/sites/${props.siteId}/setup/site`,
    area: `/sites/${props.siteId}/setup`,
    icon: Cog6ToothIcon,
  },
])
const route = useRoute()
const isHere = (to: string) => route.path.startsWith(to)
</script>

<template>
  <nav
    class="flex gap-1 border-line p-3 max-md:border-b md:sticky md:top-0 md:h-dvh md:flex-col md:border-r"
    aria-label="Areas"
  >
    <SiteSwitch :site-id="siteId" class="md:mb-4" />
    <template v-if="siteId">
      <NuxtLink
        v-for="place in places"
        :key="place.label"
        :to="place.to"
        class="flex items-center gap-2.5 rounded px-2 py-1.5 hover:bg-neutral-soft"
        :class="isHere(place.area ?? place.to) ? 'font-semibold text-accent' : 'text-ink'"
        :aria-current="isHere(place.area ?? place.to) ? 'page' : undefined"
      >
        <component :is="place.icon" class="size-5 shrink-0" aria-hidden="true" />
        <span class="max-sm:sr-only">{{ place.label }}</span>
      </NuxtLink>
    </template>
    <div class="mt-auto flex gap-1 text-sm text-ink-soft max-md:ml-auto md:flex-col">
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="emit('palette')">
        Find … <kbd class="font-mono text-xs max-sm:hidden">Ctrl K</kbd>
      </button>
      <button
        type="button"
        class="rounded px-2 py-1 text-left hover:bg-neutral-soft max-sm:hidden"
        @click="emit('shortcuts')"
      >
        Shortcuts <kbd class="font-mono text-xs">?</kbd>
      </button>
      <button
        type="button"
        class="rounded px-2 py-1 text-left hover:bg-neutral-soft max-sm:hidden"
        @click="isDark = !isDark"
      >
        {{ isDark ? 'Light' : 'Dark' }} colors
      </button>
      <NuxtLink to="/account" class="truncate rounded px-2 py-1 hover:bg-neutral-soft max-md:hidden">{{
        account.view?.person?.name
      }}</NuxtLink>
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="account.signOut()">
        Sign out
      </button>
    </div>
  </nav>
</template>
