<script setup lang="ts">
import type { SiteView } from '~~/shared/sites/replies'

const props = defineProps<{ site: SiteView }>()
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <section aria-labelledby="script-line">
    <div class="mb-2 flex items-center gap-3">
      <h2 id="script-line">Script line</h2>
      <BaseButton class="ml-auto" @click="copy(props.site.scriptLine)">{{ copied ? 'Copied' : 'Copy' }}</BaseButton>
    </div>
    <p class="mb-2 max-w-[72ch]">
      Put this line into the head of every page, before style sheets and other scripts. Older lines keep working.
    </p>
    <pre
      class="border border-line bg-raised p-3 font-mono text-xs break-all whitespace-pre-wrap"
      data-testid="script-line"
      >{{ site.scriptLine }}</pre>
    <details class="mt-2 text-sm">
      <summary class="text-ink-soft">What it does</summary>
      <div class="mt-2 flex max-w-[72ch] flex-col gap-2">
        <p>
          On a visitor’s first page, the style hides the page until Vetch has decided, for
          {{ formatNumber(props.site.longestWait / 1000) }} seconds at most. From the second page on, it hides only what
          an experiment changes there, and nothing where none runs. The script loads beside the page.
        </p>
      </div>
    </details>
  </section>
</template>
