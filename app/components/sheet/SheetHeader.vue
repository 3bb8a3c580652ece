<script setup lang="ts">
import type { SheetContent } from '~~/core/sheet/content'
import { PURPOSE_WORDS } from '~/sheets/purposeWords'

defineProps<{ mayEdit: boolean }>()
const store = useSheetStore()
const { draft, commit, state } = useSheetThing<SheetContent>({ part: 'sheet' }, [['name']])
const label = computed(() => `Name of the ${PURPOSE_WORDS[store.sheet?.purpose ?? 'test'].thing}`)
const name = computed(() => state('name'))
</script>

<template>
  <header v-if="store.sheet">
    <label class="sr-only" for="experiment-name">{{ label }}</label>
    <textarea
      id="experiment-name"
      v-model="draft.name"
      rows="1"
      class="-ml-2 field-sizing-content w-full resize-none rounded border border-transparent bg-transparent px-2 py-0.5 text-2xl font-semibold hover:border-line disabled:hover:border-transparent"
      :disabled="!mayEdit"
      :aria-invalid="name.errors[''] ? true : undefined"
      @change="commit"
      @keydown.enter.prevent="commit"
    />
    <p v-if="name.errors['']" class="text-sm text-rust" role="alert">{{ name.errors[''] }}</p>
    <FieldConflict v-if="name.conflict" :conflict="name.conflict" :label="label" />
    <div class="mt-1 flex min-h-9 flex-wrap items-center gap-x-3 gap-y-1 text-sm text-ink-soft">
      <span v-if="store.sheet.purpose === 'serve'">Personalization</span>
      <StateBadge :state="store.sheet.state" />
      <SaveState />
      <UndoRedo v-if="mayEdit" class="ml-auto" />
    </div>
    <RefusedChanges />
  </header>
</template>
