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
const go = (place: string) => () => void (siteId.value && navigateTo(`/sites/${siteId.value}/${place}`))
useShortcuts([
  { keys: '?', label: 'Show the shortcuts', run: () => (isHelpOpen.value = true) },
  { keys: 'g t', label: 'Go to Today', run: go('today') },
  { keys: 'g v', label: 'Go to Evidence', run: go('evidence/pages') },
  { keys: 'g e', label: 'Go to Experiments', run: go('experiments') },
  { keys: 'g r', label: 'Go to Rollouts', run: go('rollouts') },
  { keys: 'g s', label: 'Go to Setup', run: go('setup/site') },
])
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-2"
    >Skip to the content</a
  >
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
