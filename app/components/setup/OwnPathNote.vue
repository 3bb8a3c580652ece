<script setup lang="ts">
/** How a site's own server hands a path on to Vetch. */
const props = defineProps<{ path: string }>()
const origin = window.location.origin
const configuration = computed(
  () => `location ${props.path}/ {
  proxy_pass ${origin}/;
  proxy_set_header X-Forwarded-For $remote_addr;
  proxy_set_header X-Forwarded-Proto $scheme;
  proxy_set_header X-Forwarded-Host $host;
}`,
)
</script>

<template>
  <div class="flex max-w-[72ch] flex-col gap-2 text-sm">
    <p>
      Forward this path from the site’s server to Vetch, and add the server to Vetch’s trusted proxies. Then save, and
      replace the script line. For nginx:
    </p>
    <pre class="border border-line bg-raised p-3 font-mono text-xs whitespace-pre-wrap">{{ configuration }}</pre>
  </div>
</template>
