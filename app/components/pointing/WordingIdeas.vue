<script setup lang="ts">
import type { WordingIdeas } from '~~/shared/wording/operations'
import { LONGEST_WORDING, MANNERS, type Manner } from '~~/shared/wording/wording'

/** Other words for a text: a person reads them, takes one, and changes it. */
const props = defineProps<{ siteId: number; text: string; element: string; around: string }>()
const emit = defineEmits<{ take: [idea: string] }>()
const api = useApi()
const manner = ref<Manner | null>(null)
const found = shallowRef<WordingIdeas | null>(null)
const problem = ref('')
const isAsking = ref(false)

async function ask(wanted: Manner): Promise<void> {
  manner.value = wanted
  isAsking.value = true
  problem.value = ''
  try {
    const { text, element, around } = props
    const body = { text, manner: wanted, element: element.slice(0, 40), around: around.slice(0, 1000) }
    const ideas = await api('findWordings', { site: props.siteId, body })
    if (manner.value === wanted) found.value = ideas
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    found.value = null
    problem.value = error.message
  } finally {
    isAsking.value = false
  }
}
</script>

<template>
  <div v-if="text.length <= LONGEST_WORDING" class="flex flex-col gap-2 text-sm">
    <p class="flex flex-wrap items-center gap-1.5">
      <span class="text-ink-soft">Ideas:</span>
      <button
        v-for="each in MANNERS"
        :key="each"
        type="button"
        class="chip aria-pressed:border-accent"
        :aria-pressed="manner === each"
        :disabled="!text.trim()"
        @click="ask(each)"
      >
        {{ each }}
      </button>
    </p>
    <p v-if="isAsking" class="text-ink-soft" role="status">Looking for words …</p>
    <p v-else-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <template v-else-if="found">
      <p v-if="found.ideas.length === 0" class="text-ink-soft" role="status">No ideas for this text.</p>
      <ul v-else class="flex flex-col gap-1">
        <li v-for="idea in found.ideas" :key="idea">
          <button
            type="button"
            class="w-full rounded border border-line px-2 py-1 text-left hover:bg-neutral-soft"
            @click="emit('take', idea)"
          >
            {{ idea }}
          </button>
        </li>
      </ul>
      <p class="text-ink-soft">
        {{
          found.source === 'rules'
            ? 'Made by simple rules. Fill in the words in brackets.'
            : 'By the writing assistant that is set. Check its facts.'
        }}
      </p>
    </template>
  </div>
</template>
