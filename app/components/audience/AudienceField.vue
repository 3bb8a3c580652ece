<script setup lang="ts">
import type { Group } from '~~/core/targeting/condition'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import { newTest } from '~/audience/conditionDrafts'

/** Which visitors something is for: a sentence, and conditions where it is opened. */
const props = withDefaults(
  defineProps<{
    siteId: number
    audience: Group | null
    errors: Readonly<Record<string, string>>
    disabled?: boolean
    title?: string
    /** What stands where nothing is asked. */
    everybody?: string
  }>(),
  { title: 'Audience', everybody: 'Everybody who comes to these pages.' },
)
const emit = defineEmits<{ change: [audience: Group | null]; commit: [] }>()
const isOpen = ref(false)
const isSaving = ref(false)
const { name: names } = useConditionNames(
  props.siteId,
  computed(() => props.audience),
)
const words = computed(() => (props.audience ? conditionInWords(props.audience, names.value) : 'everybody'))

function begin(): void {
  isOpen.value = true
  if (!props.audience) emit('change', { join: 'all', of: [newTest('device')] })
}
function clear(): void {
  emit('change', null)
  isOpen.value = false
  emit('commit')
}
function useSaved(id: number): void {
  emit('change', { join: 'all', of: [{ fact: 'audience', is: 'yes', id }] })
  emit('commit')
}
</script>

<template>
  <div class="flex max-w-3xl flex-col gap-2">
    <p class="flex flex-wrap items-baseline gap-x-3">
      <span class="font-medium">{{ title }}</span>
      <span class="min-w-0 flex-1">{{ audience ? `Visitors: ${words}.` : everybody }}</span>
      <template v-if="!disabled">
        <BaseButton v-if="!isOpen" kind="quiet" @click="begin">{{
          audience ? 'Change the audience' : 'Choose an audience'
        }}</BaseButton>
        <template v-else>
          <BaseButton v-if="audience" kind="quiet" @click="isSaving = true">Save it under a name</BaseButton>
          <BaseButton kind="quiet" @click="clear">Everybody</BaseButton>
          <BaseButton kind="quiet" @click="isOpen = false">Close</BaseButton>
        </template>
      </template>
    </p>
    <ConditionGroup
      v-if="isOpen && audience && !disabled"
      is-outermost
      :site-id="siteId"
      :group="audience"
      :errors="errors"
      @change="emit('change', $event)"
      @commit="emit('commit')"
    />
    <slot />
    <SaveAudienceDialog
      v-if="audience"
      v-model:open="isSaving"
      :site-id="siteId"
      :conditions="audience"
      @saved="useSaved"
    />
    <p v-if="errors['']" class="text-sm text-rust" role="alert">{{ errors[''] }}</p>
  </div>
</template>
