<script setup lang="ts">
import {
  BeakerIcon,
  BellIcon,
  Cog6ToothIcon,
  EyeIcon,
  LightBulbIcon,
  MagnifyingGlassIcon,
  RocketLaunchIcon,
  SunIcon,
} from '@heroicons/vue/24/outline'

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
const unseen = useUnseen(computed(() => props.siteId))
const news = computed(() => (unseen.value > 0 ? `What is new, ${unseen.value} not seen` : 'What is new'))
const route = useRoute()
const sheets = useSheetStore()
/** The sheet of a personalization belongs to what is served. */
const path = computed(() => {
  const { sheet } = sheets
  const isServed = sheet?.purpose === 'serve' && route.path.startsWith(`/sites/${sheet.siteId}/experiments/${sheet.id}`)
  return isServed ? `/sites/${sheet.siteId}/rollouts` : route.path
})
const isHere = (to: string) => path.value.startsWith(to)
</script>

<template>
  <nav
    class="border-line max-md:h-24 max-md:border-b max-md:px-3 max-md:pt-2 max-md:pb-1 md:sticky md:top-0 md:flex md:h-dvh md:flex-col md:gap-1 md:border-r md:p-3"
    aria-label="Areas"
  >
    <div class="flex items-center gap-1 max-md:mb-1">
      <SiteSwitch :site-id="siteId" class="min-w-0 md:mb-4 md:w-full" />
      <NuxtLink
        v-if="siteId"
        :to="`/sites/${siteId}/news`"
        class="relative ml-auto flex size-9 items-center justify-center rounded hover:bg-neutral-soft md:hidden"
        :aria-label="news"
      >
        <BellIcon class="size-5" aria-hidden="true" />
        <span v-if="unseen > 0" class="absolute top-0 right-0 text-xs font-semibold text-accent">{{ unseen }}</span>
      </NuxtLink>
      <button
        type="button"
        class="flex size-9 items-center justify-center rounded hover:bg-neutral-soft md:hidden"
        aria-label="Find"
        @click="emit('palette')"
      >
        <MagnifyingGlassIcon class="size-5" aria-hidden="true" />
      </button>
      <AccountMenu class="md:hidden" @shortcuts="emit('shortcuts')" />
    </div>
    <div v-if="siteId" class="grid grid-cols-6 md:flex md:flex-col md:gap-1">
      <NuxtLink
        v-for="place in places"
        :key="place.label"
        :to="place.to"
        class="flex items-center gap-2.5 rounded px-2 py-1.5 hover:bg-neutral-soft max-md:flex-col max-md:gap-0.5 max-md:px-0 max-md:py-1"
        :class="isHere(place.area ?? place.to) ? 'font-semibold text-accent' : 'text-ink'"
        :aria-current="isHere(place.area ?? place.to) ? 'page' : undefined"
      >
        <component :is="place.icon" class="size-5 shrink-0" aria-hidden="true" />
        <span class="max-md:text-xs max-sm:text-[0.65rem]">{{ place.label }}</span>
      </NuxtLink>
    </div>
    <div class="mt-auto flex flex-col gap-1 text-sm text-ink-soft max-md:hidden">
      <NuxtLink
        v-if="siteId"
        :to="`/sites/${siteId}/news`"
        class="flex items-center gap-2 rounded px-2 py-1 hover:bg-neutral-soft"
        :class="{ 'font-semibold text-accent': unseen > 0 }"
        :aria-label="news"
      >
        <BellIcon class="size-4 shrink-0" aria-hidden="true" />What is new<span v-if="unseen > 0" class="ml-auto">{{
          unseen
        }}</span>
      </NuxtLink>
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="emit('palette')">
        Find … <kbd class="font-mono text-xs">Ctrl K</kbd>
      </button>
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="emit('shortcuts')">
        Shortcuts <kbd class="font-mono text-xs">?</kbd>
      </button>
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="isDark = !isDark">
        {{ isDark ? 'Light' : 'Dark' }} colors
      </button>
      <NuxtLink to="/account" class="truncate rounded px-2 py-1 hover:bg-neutral-soft">{{
        account.view?.person?.name
      }}</NuxtLink>
      <button type="button" class="rounded px-2 py-1 text-left hover:bg-neutral-soft" @click="account.signOut()">
        Sign out
      </button>
    </div>
  </nav>
</template>
