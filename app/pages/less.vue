<script setup lang="ts">
import type { HearLessView } from '~~/shared/notifications/replies'
import { OCCURRENCE_WORDS, WAYS, type Way } from '~~/core/notifications/occurrence'
import { WAY_WORDS } from '~/notifications/wayWords'

definePageMeta({ layout: 'door' })
useHead({ title: 'Hear less · Vetch' })
const api = useApi()
/** The secret stands behind the #: it is sent to nobody with the address. */
const key = useRoute().hash.slice(1)
const told = shallowRef<HearLessView | null>(null)
const { problem, isUnderWay, request } = useRequest()
const CHOICES = WAYS.map((value) => ({ value, label: WAY_WORDS[value] }))

// The click in the letter is enough.
onMounted(() => request(async () => void (told.value = await api('hearLess', { body: { key } }))))
const choose = ({ kind, experimentId }: HearLessView[number], way: Way) =>
  request(async () => void (told.value = await api('hearLess', { body: { key, ways: [{ kind, experimentId, way }] } })))
</script>

<template>
  <div class="flex flex-col gap-4">
    <h1>Hear less</h1>
    <p v-if="problem" class="text-rust" role="alert">{{ problem }}</p>
    <LoadingNote v-else-if="!told" />
    <template v-else>
      <p role="status">It is done. From now on you are told so:</p>
      <ul class="flex flex-col gap-4">
        <li v-for="each in told" :key="`${each.kind} ${each.experimentId}`">
          <ChoiceField
            :model-value="each.way"
            :label="`${OCCURRENCE_WORDS[each.kind]}: ${each.title}`"
            :choices="CHOICES"
            @update:model-value="choose(each, $event)"
          />
        </li>
      </ul>
      <p class="text-sm text-ink-soft">{{ isUnderWay ? 'Saving …' : 'A choice holds at once.' }}</p>
    </template>
    <NuxtLink class="text-accent underline" to="/account#told">Choose everything that you are told</NuxtLink>
  </div>
</template>
