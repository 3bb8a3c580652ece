<script setup lang="ts">
import type { ExclusionGroupView } from '~~/shared/traffic/replies'
import { BUCKETS } from '~~/core/assignment/assignment'

/** A group of experiments that exclude each other. */
const props = defineProps<{ siteId: number; group: ExclusionGroupView; mayEdit: boolean }>()
const emit = defineEmits<{ remove: [] }>()
const isParts = computed(() => props.group.kind === 'parts')
</script>

<template>
  <article class="flex flex-col gap-3 border-t border-line py-4">
    <header class="flex flex-wrap items-baseline gap-3">
      <h3 class="font-semibold">{{ group.name }}</h3>
      <p class="mr-auto text-sm text-ink-soft">
        {{
          isParts
            ? `Each experiment has a part of its own; ${formatShare((group.free ?? 0) / BUCKETS, 1)} of the visitors are free.`
            : 'By turns: whoever is asked first gets the visitor, and keeps them.'
        }}
      </p>
      <BaseButton v-if="mayEdit && group.members.length === 0" kind="quiet" @click="emit('remove')">Delete</BaseButton>
    </header>
    <BucketStrip v-if="isParts" :group="group" />
    <p v-if="group.members.length === 0" class="text-sm text-ink-soft">
      No experiment is in it. Choose it on the sheet of a draft, under Who.
    </p>
    <ol v-else class="flex flex-col gap-1 text-sm">
      <li
        v-for="(member, index) in group.members"
        :key="member.experiment"
        class="flex flex-wrap items-baseline gap-x-3"
      >
        <span class="w-5 text-right font-mono text-xs text-ink-soft">{{ index + 1 }}</span>
        <NuxtLink :to="`/sites/${siteId}/experiments/${member.experiment}`" class="text-accent underline">{{
          member.name
        }}</NuxtLink>
        <StateBadge :state="member.state" />
        <span class="text-ink-soft">
          {{ formatShare(member.share / BUCKETS, 1) }} of the visitors<template
            v-if="isParts && member.state === 'draft'"
            >, once it has started</template
          ><template v-if="!isParts">, asked in place {{ member.rank }}</template>
        </span>
      </li>
    </ol>
  </article>
</template>
