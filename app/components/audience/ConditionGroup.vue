<script setup lang="ts">
import { isGroup, type Condition, type Group } from '~~/core/targeting/condition'
import { newTest } from '~/audience/conditionDrafts'

/** Conditions that belong together, groups in them indented. */
const props = defineProps<{
  siteId: number
  group: Group
  /** By the place of what they are about: of[0].texts. */
  errors: Readonly<Record<string, string>>
  isOutermost?: boolean
}>()
const emit = defineEmits<{ change: [group: Group]; commit: []; remove: [] }>()
const JOINS: { value: Group['join']; label: string }[] = [
  { value: 'all', label: 'all of these' },
  { value: 'any', label: 'any of these' },
  { value: 'none', label: 'none of these' },
]
const setAt = (index: number, condition: Condition) =>
  emit('change', { ...props.group, of: props.group.of.map((each, at) => (at === index ? condition : each)) })
function removeAt(index: number): void {
  emit('change', { ...props.group, of: props.group.of.filter((_, at) => at !== index) })
  emit('commit')
}
function join(how: Group['join']): void {
  emit('change', { ...props.group, join: how })
  emit('commit')
}
const add = (condition: Condition) => emit('change', { ...props.group, of: [...props.group.of, condition] })
function errorsAt(index: number): Record<string, string> {
  const beginning = `of[${index}].`
  const own = Object.entries(props.errors).filter(([path]) => path.startsWith(beginning))
  return Object.fromEntries(own.map(([path, message]) => [path.slice(beginning.length), message]))
}
</script>

<template>
  <div
    class="flex flex-col gap-3"
    :class="isOutermost ? '' : 'border-l-2 border-line-strong pl-3'"
    role="group"
    :aria-label="isOutermost ? 'Conditions' : 'Conditions within'"
  >
    <div class="flex items-end gap-3">
      <ChoiceField
        class="w-52"
        :model-value="group.join"
        :label="isOutermost ? 'Visitors who match' : 'and'"
        :choices="JOINS"
        @update:model-value="join($event)"
      />
      <BaseButton v-if="!isOutermost" kind="quiet" aria-label="Remove the conditions within" @click="emit('remove')"
        >Remove</BaseButton
      >
    </div>
    <template v-for="(each, index) in group.of" :key="index">
      <ConditionGroup
        v-if="isGroup(each)"
        :site-id="siteId"
        :group="each"
        :errors="errorsAt(index)"
        @change="setAt(index, $event)"
        @commit="emit('commit')"
        @remove="removeAt(index)"
      />
      <ConditionTest
        v-else
        :key="`${index} ${each.fact}`"
        :site-id="siteId"
        :test="each"
        :error="Object.values(errorsAt(index))[0]"
        @change="setAt(index, $event)"
        @commit="emit('commit')"
        @remove="removeAt(index)"
      />
    </template>
    <div class="flex flex-wrap gap-2">
      <BaseButton kind="quiet" class="-ml-3" @click="add(newTest('device'))">Add a condition</BaseButton>
      <BaseButton kind="quiet" @click="add({ join: 'none', of: [newTest('did')] })">Add a group</BaseButton>
    </div>
  </div>
</template>
