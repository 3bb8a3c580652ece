<script setup lang="ts">
import type { SiteView } from '~~/shared/sites/replies'
import { loaderPiece, waitPiece } from '~~/shared/delivery/scriptLine'

/** Where the line goes in different kinds of sites, and what does not work there. */
const props = defineProps<{ site: SiteView }>()
const wait = computed(() => waitPiece(props.site.longestWait))
const loader = computed(() => loaderPiece(props.site.scriptLine))
</script>

<template>
  <section aria-labelledby="install-ways">
    <h2 id="install-ways" class="mb-2">Where to put it</h2>
    <div class="flex max-w-[72ch] flex-col gap-2 [&_p]:mt-2 [&_summary]:font-medium">
      <details>
        <summary>In a template of your own</summary>
        <p>
          Put the line into the file that writes the head of every page. It comes after the character set and before
          style sheets and other scripts.
        </p>
        <p>Pages with a head of their own, such as a checkout, need the line as well. The check below finds them.</p>
      </details>
      <details>
        <summary>In a page builder or a shop system</summary>
        <p>
          Look in the settings for code that goes into the head of all pages. It is often called custom code, or header
          scripts.
        </p>
        <p>
          Some systems load such code late, or leave it out of the checkout. Check a product page and the cart below.
        </p>
      </details>
      <details>
        <summary>In a script manager</summary>
        <p>
          A script manager loads scripts once the page is there. Experiments work, and visitors are counted. But
          visitors see the original for a moment before it changes.
        </p>
        <p>Put this piece into the template of the page, so that the page waits for the script:</p>
        <CopiedText label="Piece against flicker" :text="wait" />
        <p>Let the script manager load this piece first, on all pages:</p>
        <CopiedText label="Piece for the script manager" :text="loader" />
      </details>
      <details>
        <summary>With a strict content security policy</summary>
        <p>
          The policy must name this Vetch in <code class="font-mono text-xs">script-src</code> and
          <code class="font-mono text-xs">connect-src</code>. It must also allow the two pieces in the line by their
          hashes:
        </p>
        <CopiedText label="For style-src" :text="`'${site.styleHash}'`" />
        <CopiedText label="For script-src" :text="`'${site.scriptHash}'`" />
        <p>
          Without the second hash, every page is hidden as the first one is. Vetch uses no eval. Scripts in variants
          need a policy that allows them; the preflight says so.
        </p>
      </details>
      <details>
        <summary>In a single-page application</summary>
        <p>
          Put the line into the page that the server sends. Vetch notices each change of the address by itself and
          decides anew.
        </p>
        <p>
          Where the application draws an element again, Vetch changes it again. Do not load the line from within the
          application.
        </p>
      </details>
    </div>
  </section>
</template>
