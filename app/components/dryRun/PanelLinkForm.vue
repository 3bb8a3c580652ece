<script setup lang="ts">
/** Opens a page of the site with the panel that says what runs there and why. */
const props = defineProps<{ siteId: number }>()
const api = useApi()
const { errors, isSaving, save } = useSaving()
const path = ref('/')
const link = ref('')
const open = () =>
  save(async () => {
    const made = await api('openPanel', { site: props.siteId, body: { path: path.value } })
    link.value = made.link
    window.open(made.link, '_blank', 'noopener')
  })
</script>

<template>
  <form class="flex max-w-2xl flex-col gap-4" novalidate @submit.prevent="open">
    <p>
      The page opens with a panel: what runs there, what would and what does not, each with its conditions as they are
      found in this browser. Choose variants for yourself, and see each event as it comes. Nothing is counted.
    </p>
    <div class="flex flex-wrap items-end gap-3">
      <TextField v-model="path" class="w-72" label="Page" placeholder="/book" :error="errors.path" />
      <BaseButton kind="main" type="submit" :disabled="isSaving">Open it with the panel</BaseButton>
    </div>
    <p v-if="link" class="text-sm text-ink-soft">
      It holds for an hour, as long as you are signed in.
      <a :href="link" target="_blank" rel="noopener" class="text-accent underline">The link</a>, if no window opened.
    </p>
  </form>
</template>
