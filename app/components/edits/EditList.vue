<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { EllipsisHorizontalIcon } from '@heroicons/vue/20/solid'
import { isOfElement, type Edit } from '~~/core/edits/content'
import { describeEdit, editName } from '~~/core/edits/edit'
import { areSameWidths, describeWidths, type Widths } from '~~/core/edits/widths'
import type { SheetLevel } from '~~/core/sheet/content'
import type { EditOutcome } from '~~/shared/edits/pointing'

/** All edits of a variant in the order of being applied, and what can be done with each. */
const props = defineProps<{
  edits: readonly Edit[]
  /** How each fares on the page that is open. */
  outcomes?: readonly EditOutcome[]
  /** Other variants or levels that an edit can be copied to. */
  others: readonly SheetLevel[]
  /** The window widths that are chosen; null for all. */
  widths: Widths | null
}>()
const emit = defineEmits<{
  show: [edit: Edit]
  rename: [edit: Edit, name: string | null]
  toggle: [edit: Edit]
  move: [edit: Edit, by: -1 | 1]
  copy: [edit: Edit, to: SheetLevel]
  limit: [edit: Edit]
  hold: [edit: Edit]
  remove: [edit: Edit]
}>()
const renamed = ref<string | null>(null)
const name = ref('')
function beginRename(edit: Edit): void {
  renamed.value = edit.id
  name.value = editName(edit)
}
function rename(edit: Edit): void {
  if (renamed.value !== edit.id) return
  renamed.value = null
  const typed = name.value.trim()
  emit('rename', edit, typed && typed !== describeEdit(edit) ? typed.slice(0, 80) : null)
}
function warning(edit: Edit): string | null {
  const outcome = props.outcomes?.find(({ id }) => id === edit.id)
  if (!outcome || edit.isOff) return null
  if (outcome.found === 'nowhere') return 'Not on this page.'
  if (outcome.found === 'clues') return 'Its selector finds nothing, so its text was used. Select the element again.'
  if (outcome.isChanging) return 'The page changes this text by itself. The edit keeps one wording.'
  return outcome.matches > 1 ? `Finds ${formatCount(outcome.matches)} elements, and changes the first.` : null
}
const itemClass = 'block w-full px-3 py-1.5 text-left data-[headlessui-state~=active]:bg-neutral-soft'
</script>

<template>
  <p v-if="edits.length === 0" class="text-ink-soft">None yet.</p>
  <ol v-else class="flex flex-col">
    <li v-for="(edit, place) in edits" :key="edit.id" class="flex items-start gap-1 border-b border-line py-2">
      <form v-if="renamed === edit.id" class="flex-1" @submit.prevent="rename(edit)">
        <TextField v-model="name" label="Name of the edit" @commit="rename(edit)" @keydown.esc.stop="renamed = null" />
      </form>
      <div v-else class="min-w-0 flex-1">
        <EditSummary :edit="edit" />
        <p v-if="warning(edit)" class="text-sm text-rust">{{ warning(edit) }}</p>
      </div>
      <Menu as="div" class="relative">
        <MenuButton class="rounded p-1 text-ink-soft hover:text-ink" :aria-label="`What to do with: ${editName(edit)}`">
          <EllipsisHorizontalIcon class="size-5" aria-hidden="true" />
        </MenuButton>
        <MenuItems
          class="absolute right-0 z-20 mt-1 w-56 rounded border border-line-strong bg-raised py-1 text-sm shadow-sm"
        >
          <MenuItem v-if="isOfElement(edit)"
            ><button type="button" :class="itemClass" @click="emit('show', edit)">Show it on the page</button></MenuItem
          >
          <MenuItem><button type="button" :class="itemClass" @click="beginRename(edit)">Rename</button></MenuItem>
          <MenuItem
            ><button type="button" :class="itemClass" @click="emit('toggle', edit)">
              {{ edit.isOff ? 'Switch on' : 'Switch off' }}
            </button></MenuItem
          >
          <MenuItem v-if="place > 0"
            ><button type="button" :class="itemClass" @click="emit('move', edit, -1)">Apply earlier</button></MenuItem
          >
          <MenuItem v-if="place < edits.length - 1"
            ><button type="button" :class="itemClass" @click="emit('move', edit, 1)">Apply later</button></MenuItem
          >
          <MenuItem
            ><button type="button" :class="itemClass" @click="emit('limit', edit)">
              {{ edit.page ? 'On all pages of the experiment' : 'Only on the page that is open' }}
            </button></MenuItem
          >
          <MenuItem v-if="isOfElement(edit) && !areSameWidths(edit.widths, widths)"
            ><button type="button" :class="itemClass" @click="emit('hold', edit)">
              {{ widths ? `Only in windows ${describeWidths(widths)}` : 'In all window widths' }}
            </button></MenuItem
          >
          <MenuItem v-for="other in others" :key="other.id"
            ><button type="button" :class="itemClass" @click="emit('copy', edit, other)">
              Copy to {{ other.name }}
            </button></MenuItem
          >
          <MenuItem
            ><button type="button" class="text-rust" :class="itemClass" @click="emit('remove', edit)">
              Remove
            </button></MenuItem
          >
        </MenuItems>
      </Menu>
    </li>
  </ol>
</template>
