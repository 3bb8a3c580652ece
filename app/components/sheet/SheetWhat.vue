<script setup lang="ts">
import { MOST_VARIANTS } from '~~/shared/experiment'

const props = defineProps<{ disabled: boolean }>()
const route = useRoute('sites-site-experiments-experiment')
const { draft, errors, commit, commitUndoable } = useSectionDraft(['variants'], (sheet) => ({
  variants: sheet.variants,
}))
const variants = computed(() => draft.value.variants ?? [])

function add(): Promise<void> {
  const name = `Variant ${variantLetter(variants.value.length)}`
  return commitUndoable(`Added ${name}.`, (each) => each.variants!.push({ name, weight: 1, edits: [] }))
}
function remove(position: number): Promise<void> {
  return commitUndoable(`Removed ${variants.value[position]!.name}.`, (each) => each.variants!.splice(position, 1))
}
function removeEdit(position: number, index: number): Promise<void> {
  return commitUndoable('Removed the edit.', (each) => each.variants![position]!.edits.splice(index, 1))
}
</script>

<template>
  <SheetSection name="what" title="What" note="The page as it is, and what is tried instead.">
    <template #action
      ><BaseButton v-if="!props.disabled && variants.length < MOST_VARIANTS" kind="quiet" @click="add"
        >Add a variant</BaseButton
      ></template
    >
    <ol class="flex flex-col">
      <li
        v-for="(variant, position) in variants"
        :key="position"
        class="grid gap-x-4 gap-y-2 border-b border-line py-3 last:border-b-0 sm:grid-cols-[2.5rem_12rem_1fr]"
      >
        <span class="pt-2"><VariantMark :position="position" /></span>
        <div>
          <label class="sr-only" :for="`variant-name-${position}`">Name of variant {{ variantLetter(position) }}</label>
          <input
            :id="`variant-name-${position}`"
            v-model="variant.name"
            class="field"
            :disabled="props.disabled"
            @change="commit"
          />
          <p v-if="errors[`variants[${position}].name`]" class="text-sm text-rust" role="alert">
            {{ errors[`variants[${position}].name`] }}
          </p>
        </div>
        <div class="min-w-0 pt-1.5">
          <p v-if="position === 0" class="text-ink-soft">The page as it is.</p>
          <p v-else-if="variant.edits.length === 0" class="text-ink-soft">Changes nothing yet.</p>
          <ul v-else class="flex flex-col gap-2">
            <li v-for="(edit, index) in variant.edits" :key="index" class="flex items-start gap-2">
              <div class="min-w-0 flex-1">
                <p class="font-mono text-xs break-words text-ink-soft">{{ edit.selector }}</p>
                <p class="line-clamp-2 text-ink-soft line-through decoration-line-strong">{{ edit.original }}</p>
                <p class="line-clamp-3">{{ edit.value }}</p>
              </div>
              <BaseButton
                v-if="!props.disabled"
                kind="quiet"
                :aria-label="`Remove the edit of ${edit.selector}`"
                @click="removeEdit(position, index)"
                >Remove</BaseButton
              >
            </li>
          </ul>
          <div v-if="position > 0 && !props.disabled" class="mt-2 flex gap-2">
            <NuxtLink
              :to="`${route.path}/point?variant=${position}`"
              class="rounded border border-line-strong bg-raised px-3 py-1.5 font-medium hover:bg-neutral-soft"
              >Point at the page</NuxtLink
            >
            <BaseButton v-if="variants.length > 2" kind="quiet" @click="remove(position)"
              >Remove {{ variant.name }}</BaseButton
            >
          </div>
        </div>
      </li>
    </ol>
  </SheetSection>
</template>
