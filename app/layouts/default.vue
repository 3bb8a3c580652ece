<script setup lang="ts">
const route = useRoute()
const account = useAccountStore()
const siteId = computed(() => Number('site' in route.params ? route.params.site : 0))
const isPaletteOpen = ref(false)
const isHelpOpen = ref(false)
const shortcuts = useShortcutListener()
const sheets = useSheetStore()
useNewsOf(siteId)
onNews((site, news) => void sheets.hear(site, news))

useEventListener('keydown', (event: KeyboardEvent) => {
  if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return
  event.preventDefault()
  isPaletteOpen.value = !isPaletteOpen.value
})
const toPlace = (keys: string, name: string, place: string): Shortcut => ({
  keys,
  label: `Go to ${name}`,
  run: () => void navigateTo(`/sites/${siteId.value}/${place}`),
  isOn: () => siteId.value > 0,
})
useShortcuts([
  { keys: '?', label: 'Show the shortcuts', run: () => (isHelpOpen.value = true) },
  toPlace('g t', 'Today', 'today'),
  toPlace('g n', 'What is new', 'news'),
  toPlace('g v', 'Evidence', 'evidence/pages'),
  toPlace('g h', 'Hypotheses', 'hypotheses/list'),
  toPlace('g e', 'Experiments', 'experiments'),
  toPlace('g r', 'Rollouts', 'rollouts'),
  toPlace('g s', 'Setup', 'setup/site'),
])
</script>

<template>
  <SkipLinks />
  <div class="min-h-dvh md:grid md:grid-cols-[11.5rem_minmax(0,1fr)]">
    <AppRail
      v-if="account.view?.person"
      :site-id="siteId"
      @palette="isPaletteOpen = true"
      @shortcuts="isHelpOpen = true"
    />
    <main id="main" class="min-w-0" tabindex="-1">
      <slot />
    </main>
  </div>
  <CommandPalette v-model:open="isPaletteOpen" :site-id="siteId" />
  <ShortcutHelp v-model:open="isHelpOpen" :shortcuts="shortcuts" />
</template>
