<script setup lang="ts">
import type { Edit, EditContent, EditMarks } from '~~/core/edits/content'
import { isOfElement } from '~~/core/edits/content'
import type { Widths } from '~~/core/edits/widths'
import { limitedToWidths } from '~/edits/windowWidths'
import type { PointedElement, Step } from '~~/shared/edits/pointing'

/** All ways to change the element that was pointed at. */
const props = defineProps<{
  siteId: number
  siteAddress: string
  /** Path of the page that is open. */
  page: string
  element: PointedElement
  edits: readonly Edit[]
  /** For which alone the edits are made that come next. What was typed before they were chosen is for those of then. */
  widths: Widths | null
  upload: (file: File) => Promise<string>
  mayScript: boolean
}>()
const emit = defineEmits<{
  preview: [contents: (EditContent & EditMarks)[]]
  commit: [contents: (EditContent & EditMarks)[]]
  remove: [edit: Edit]
  step: [step: Step]
  select: [ref: number]
  hover: [ref: number | null]
  leave: []
  beginCss: []
  beginScript: []
}>()
const hasWords = computed(() => props.element.content === 'text' || props.element.content === 'line')
const previewAll = (contents: EditContent[]) => emit('preview', limitedToWidths(contents, props.widths))
const commitAll = (contents: EditContent[]) => emit('commit', limitedToWidths(contents, props.widths))
const preview = (content: EditContent | null) => previewAll(content ? [content] : [])
const commit = (content: EditContent) => commitAll([content])
const kindsChanged = computed(
  () =>
    new Set(
      props.edits
        .filter((edit) => isOfElement(edit) && edit.selector === props.element.selector && !edit.isOff)
        .map(({ kind }) => kind),
    ),
)
const isChanged = (...kinds: EditContent['kind'][]) => kinds.some((kind) => kindsChanged.value.has(kind))
</script>

<template>
  <div class="flex flex-col gap-3">
    <h2 class="break-words">{{ element.words }}</h2>
    <ElementPath :element="element" @select="emit('select', $event)" @hover="emit('hover', $event)" />
    <p v-if="element.matches > 1" class="text-sm text-rust" role="alert">
      {{ formatCount(element.matches) }} elements on this page are found by the same selector: only the first would be
      changed.
    </p>
    <div>
      <EditSection v-if="hasWords" title="Words" name="words" :is-changed="isChanged('text', 'richText')" is-first>
        <WordsFields
          :key="element.ref"
          :site-id="siteId"
          :element="element"
          :edits="edits"
          @preview="preview"
          @commit="commit"
          @leave="emit('leave')"
        />
      </EditSection>
      <EditSection v-if="element.picture" title="Picture" name="picture" :is-changed="isChanged('image')" is-first>
        <PictureFields :key="element.ref" :element="element" :edits="edits" :upload="upload" @commit="commit" />
      </EditSection>
      <EditSection title="Look" name="look" :is-changed="isChanged('style')">
        <LookFields :key="element.ref" :elements="[element]" :edits="edits" @preview="previewAll" @commit="commitAll" />
        <BaseButton kind="quiet" class="-ml-3 self-start" @click="emit('beginCss')">Add a CSS rule</BaseButton>
        <BaseButton v-if="mayScript" kind="quiet" class="-ml-3 self-start" @click="emit('beginScript')"
          >Add a script</BaseButton
        >
      </EditSection>
      <EditSection title="Place" name="place" :is-changed="isChanged('move', 'hide', 'remove', 'rearrange')">
        <PlaceFields
          :element="element"
          :edits="edits"
          @step="emit('step', $event)"
          @commit="commit"
          @remove="emit('remove', $event)"
        />
      </EditSection>
      <EditSection title="Link and attributes" name="attributes" :is-changed="isChanged('attribute', 'classes')">
        <AttributeFields :key="element.ref" :element="element" :edits="edits" @commit="commit" />
      </EditSection>
      <EditSection title="HTML" name="html" :is-changed="isChanged('html', 'insert')">
        <MarkupFields
          :key="element.ref"
          :element="element"
          :edits="edits"
          @preview="preview"
          @commit="commit"
          @remove="emit('remove', $event)"
        />
      </EditSection>
      <EditSection title="Measure" name="measure">
        <MeasureFields :element="element" :site-address="siteAddress" :page="page" />
      </EditSection>
    </div>
    <p class="font-mono text-xs break-words text-ink-soft">{{ element.selector }}</p>
  </div>
</template>
