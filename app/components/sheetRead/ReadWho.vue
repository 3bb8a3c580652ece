<script setup lang="ts">
import { isSame } from '~~/core/sheet/isSame'
import { PLAIN_TERMS, termsInWords } from '~~/core/sheet/terms'
import { conditionInWords } from '~~/core/targeting/conditionWords'
import { pageRulesInWords } from '~~/core/targeting/pageWords'
import type { SheetContent } from '~~/core/sheet/content'

/** Whose page it is, and how visitors are split, as a sentence and a bar. The share can be raised. */
const props = defineProps<{ mayRaise: boolean }>()
const { content } = useSheetChanges()
const traffic = useSheetThing<SheetContent>({ part: 'sheet' }, [['share']])
const groups = shallowRef<Record<number, string>>({})
const api = useApi()
onMounted(async () => {
  if (content.value.terms.group === null) return
  const all = await api('listGroups', { site: useSheetStore().place.site })
  groups.value = Object.fromEntries(all.map(({ id, name }) => [id, name]))
})
const terms = computed(() => termsInWords(content.value.terms, groups.value))
const { name: names } = useConditionNames(useSheetStore().place.site, () => content.value.audience)
const isRaising = ref(false)
const isAll = computed(() => content.value.share === 10_000)
</script>

<template>
  <SheetSection name="who" title="Who">
    <template #action
      ><BaseButton v-if="mayRaise && !isAll && !isRaising" kind="quiet" @click="isRaising = true"
        >Raise the share</BaseButton
      ></template
    >
    <div class="flex flex-col gap-3">
      <p class="max-w-[72ch]">
        {{ isAll ? 'All visitors' : `${formatPercent(content.share / 10_000)} of the visitors` }} of
        {{ pageRulesInWords(content.pageRules) || 'no page yet'
        }}<template v-if="content.audience">, of these only: {{ conditionInWords(content.audience, names) }}</template
        >.
      </p>
      <p v-if="!isSame(content.terms, PLAIN_TERMS)" class="max-w-[72ch] first-letter:uppercase">{{ terms }}.</p>
      <SplitBar v-if="content.variants.length > 0" :variants="content.variants" :share="content.share" />
      <TrafficShare v-if="isRaising && props.mayRaise" :traffic="traffic" hint="Can only be raised now." />
    </div>
  </SheetSection>
</template>
