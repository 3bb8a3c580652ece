<script setup lang="ts">
import { cssKind, scriptKind } from '~~/core/edits/code'
import type { Edit, EditContent } from '~~/core/edits/content'

/** The stylesheet and the script of the whole variant. */
const props = defineProps<{ edits: readonly Edit[]; mayScript: boolean }>()
const emit = defineEmits<{ preview: [contents: EditContent[]]; write: [edit: Edit | null, content: EditContent] }>()
const tab = defineModel<'css' | 'script'>('tab', { required: true })
const open = defineModel<boolean>('open', { required: true })
const TABS = [
  { value: 'css', label: 'Stylesheet' },
  { value: 'script', label: 'Script' },
] as const
const keptOf = (kind: string) => props.edits.find((edit) => edit.kind === kind) ?? null
const kept = computed(() => keptOf(tab.value))
const keptCode = computed(() => (kept.value && 'value' in kept.value ? String(kept.value.value) : ''))
const drafts = reactive<Partial<Record<'css' | 'script', string>>>({})
const code = computed({
  get: () => drafts[tab.value] ?? keptCode.value,
  set: (value) => (drafts[tab.value] = value),
})
const content = computed((): EditContent => ({ kind: tab.value, value: code.value }))
const problem = computed(() => {
  if (!code.value.trim()) return ''
  return (tab.value === 'css' ? cssKind : scriptKind).problems({ kind: tab.value, value: code.value } as never)[0] ?? ''
})
const isTyped = computed(() => drafts[tab.value] !== undefined && drafts[tab.value] !== keptCode.value)
// A stylesheet is seen as it is typed; a script runs once it is kept.
watch([code, tab], () =>
  emit('preview', tab.value === 'css' && isTyped.value && !problem.value && code.value.trim() ? [content.value] : []),
)
function keep(): void {
  if (!isTyped.value || problem.value) return
  emit('write', kept.value, content.value)
  Reflect.deleteProperty(drafts, tab.value)
}
useLeaveGuard(() =>
  Object.entries(drafts).some(([kind, draft]) => {
    const edit = keptOf(kind)
    return draft !== (edit && 'value' in edit ? edit.value : '')
  }),
)
/** Adds the beginning of a rule for an element. */
function beginRule(selector: string): void {
  tab.value = 'css'
  open.value = true
  code.value = `${code.value.trimEnd()}${code.value.trim() ? '\n\n' : ''}${selector} {\n  \n}\n`
}
/** Adds a line that finds an element. */
function beginScript(selector: string): void {
  tab.value = 'script'
  open.value = true
  const line = `const element = document.querySelector(${JSON.stringify(selector)})`
  code.value = `${code.value.trimEnd()}${code.value.trim() ? '\n\n' : ''}${line}\n`
}
defineExpose({ beginRule, beginScript })
</script>

<template>
  <section
    v-if="open"
    class="flex flex-col gap-2 border-t border-line bg-ground px-5 py-3"
    aria-label="Code of the variant"
  >
    <div class="flex items-center gap-2">
      <button
        v-for="each in TABS"
        :key="each.value"
        type="button"
        class="chip aria-pressed:border-accent aria-pressed:text-accent"
        :aria-pressed="tab === each.value"
        @click="tab = each.value"
      >
        {{ each.label }}
      </button>
      <p class="min-w-0 truncate text-sm text-ink-soft max-lg:hidden">
        {{
          tab === 'css'
            ? 'Applies to the pages of the experiment, for visitors of this variant.'
            : 'Runs once a page view, after the edits. What it returns, if a function, takes it back.'
        }}
      </p>
      <BaseButton class="ml-auto" kind="main" :disabled="!isTyped || problem !== ''" @click="keep">Save</BaseButton>
      <BaseButton kind="quiet" @click="open = false">Close</BaseButton>
    </div>
    <p v-if="tab === 'script' && !mayScript" class="border-l-4 border-rust py-1 pl-3">
      An owner of the site has forbidden scripts in variants.
    </p>
    <template v-else>
      <CodeEditor
        :key="tab"
        v-model="code"
        :label="tab === 'css' ? 'Stylesheet of the variant' : 'Script of the variant'"
        :language="tab === 'css' ? 'css' : 'javascript'"
      />
      <p v-if="problem" class="text-sm text-rust" role="alert">{{ problem }}</p>
    </template>
  </section>
</template>
