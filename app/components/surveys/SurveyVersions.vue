<script setup lang="ts">
import type { SurveyVersion } from '~~/shared/surveys/replies'

/** What the survey asked earlier, with a way to go on from it. */
const props = defineProps<{ siteId: number; surveyId: number; version: number; mayEdit: boolean }>()
const emit = defineEmits<{ use: [version: SurveyVersion] }>()
const api = useApi()
const account = useAccountStore()
const isOpen = ref(false)
const timeZone = computed(() => account.site(props.siteId)?.timeZone ?? 'UTC')
const { value, problem, reload } = useLoaded(async () =>
  isOpen.value ? api('readSurveyVersions', { site: props.siteId, survey: props.surveyId }) : null,
)
watch([isOpen, () => props.version], reload)
const asked = ({ content: { questions } }: SurveyVersion) => questions.map(({ words }) => `“${words}”`).join(', ')
</script>

<template>
  <details class="mt-6 border-t border-line pt-3" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="font-semibold">Versions</summary>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="isOpen && !value" />
    <ul class="mt-3 flex flex-col gap-2 text-sm">
      <li v-for="each in value ?? []" :key="each.version" class="flex items-baseline gap-3">
        <p class="min-w-0 flex-1 break-words">
          <span class="text-ink-soft"
            >Version {{ each.version }} · {{ formatTime(each.at, timeZone) }} · {{ each.person ?? 'Vetch' }} ·
          </span>
          {{ each.name }}: {{ asked(each) }}
        </p>
        <span v-if="each.version === version" class="text-ink-soft">now</span>
        <button
          v-else-if="mayEdit"
          type="button"
          class="text-accent underline"
          :aria-label="`Restore version ${each.version}`"
          @click="emit('use', each)"
        >
          Restore
        </button>
      </li>
    </ul>
  </details>
</template>
