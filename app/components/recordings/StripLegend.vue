<script setup lang="ts">
/** What the signs on the strip of a visit mean. */
</script>

<template>
  <ul class="flex flex-wrap gap-x-4 gap-y-1 text-sm text-ink-soft" aria-label="Signs on the strip">
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 12 16" class="h-4 w-3" aria-hidden="true">
        <line x1="6" x2="6" y1="0" y2="16" class="stroke-ink" stroke-width="2" />
      </svg>
      page opened
    </li>
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 12 16" class="h-4 w-3" aria-hidden="true">
        <circle cx="6" cy="8" r="3" class="fill-ink-soft" />
      </svg>
      click or field
    </li>
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 14 16" class="h-4 w-3.5" aria-hidden="true">
        <circle cx="7" cy="8" r="4" class="fill-ground stroke-rust" stroke-width="1.75" />
      </svg>
      dead click, larger: rage click
    </li>
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 12 16" class="h-4 w-3" aria-hidden="true">
        <path d="M2 16V1l8 3.5l-8 3.5" class="fill-pine stroke-pine" />
      </svg>
      form, event or amount
    </li>
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 12 16" class="h-4 w-3" aria-hidden="true">
        <path d="M2 4l8 8m0-8l-8 8" class="stroke-rust" stroke-width="2" />
      </svg>
      error
    </li>
    <li class="flex items-center gap-1.5">
      <svg viewBox="0 0 24 16" class="h-4 w-6" aria-hidden="true">
        <line x1="0" x2="24" y1="8" y2="8" class="stroke-line-strong" stroke-width="1.5" stroke-dasharray="3 4" />
      </svg>
      pause
    </li>
  </ul>
</template>
