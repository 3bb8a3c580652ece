<script setup lang="ts">
useHead({ title: 'Your account · Vetch' })
const account = useAccountStore()
const sessions = useTemplateRef('sessions')
</script>

<template>
  <div class="max-w-3xl p-6 lg:p-8">
    <PageHead title="Your account" :note="account.view?.person?.email" />
    <div class="flex flex-col gap-8">
      <section aria-labelledby="own-name">
        <h2 id="own-name" class="mb-3">Name</h2>
        <OwnName />
      </section>
      <section aria-labelledby="told">
        <h2 id="told" class="mb-2">What you are told</h2>
        <p class="mb-3 max-w-[72ch] text-ink-soft">
          For all experiments. A sheet has choices of its own, under Notifications.
        </p>
        <OwnNotifications />
      </section>
      <section aria-labelledby="own-password">
        <h2 id="own-password" class="mb-3">Password</h2>
        <OwnPassword @changed="sessions?.reload()" />
      </section>
      <section aria-labelledby="own-sessions">
        <h2 id="own-sessions" class="mb-2">Where you are signed in</h2>
        <OwnSessions ref="sessions" />
      </section>
    </div>
  </div>
</template>
