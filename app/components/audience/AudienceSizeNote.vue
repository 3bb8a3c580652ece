<script setup lang="ts">
import type { AudienceSize } from '~~/shared/audiences/replies'
import type { Group } from '~~/core/targeting/condition'

/** How many visitors of the last four weeks conditions would have let in, asked anew when they change. */
const props = defineProps<{ siteId: number; conditions: Group }>()
const api = useApi()
const size = shallowRef<AudienceSize | null>(null)
const problem = ref('')
const share = computed(() => (size.value && size.value.looked > 0 ? size.value.inside / size.value.looked : 0))
const isSampled = computed(() => !!size.value && size.value.looked < size.value.visitors)
let latest = 0
async function ask(): Promise<void> {
  const turn = ++latest
  try {
    const found = await api('sizeAudience', { site: props.siteId, body: { conditions: props.conditions } })
    if (turn !== latest) return
    size.value = found
    problem.value = ''
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    // What is being typed is not whole yet.
    if (turn === latest) problem.value = error.message
  }
}
watchDebounced(() => JSON.stringify(props.conditions), ask, { debounce: 500, immediate: true })
</script>

<template>
  <div class="text-sm" aria-live="polite">
    <p v-if="problem" class="text-ink-soft">{{ problem }}</p>
    <p v-else-if="!size" class="text-ink-soft">Looking at the last four weeks …</p>
    <template v-else>
      <p>
        <strong>{{ formatCount(Math.round(share * size.visitors)) }}</strong> of
        {{ formatCount(size.visitors) }} visitors of the last four weeks, {{ formatShare(share, 1)
        }}<template v-if="isSampled">, by {{ formatCount(size.looked) }} of them</template>.
      </p>
      <p v-if="size.unknown.length > 0" class="text-ink-soft">
        Past data does not say {{ size.unknown.join(', ') }}: so no visitor counts as having it.
      </p>
      <ul v-if="size.keptOut.length > 1" class="mt-1 text-ink-soft">
        <li v-for="each in size.keptOut" :key="each.words">
          {{ each.words }}: kept out {{ formatShare(each.visitors / Math.max(1, size.looked), 1) }}
        </li>
      </ul>
    </template>
  </div>
</template>
