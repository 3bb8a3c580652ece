<script setup lang="ts">
useHead({ title: 'People · Vetch' })
const account = useAccountStore()
const route = useRoute('sites-site-setup-people')
const siteId = Number(route.params.site)
const site = computed(() => account.site(siteId))
const mayManage = computed(() => site.value?.role === 'owner')
</script>

<template>
  <div class="max-w-4xl p-6 lg:p-8">
    <SetupHead :site-id="siteId" />
    <div class="flex flex-col gap-8">
      <section aria-labelledby="members">
        <h2 id="members" class="mb-2">Members</h2>
        <p class="max-w-[72ch] text-ink-soft">
          Of the organization, on all its sites. Viewers read, editors change experiments, owners decide on settings and
          people.
        </p>
        <MemberList :key="String(mayManage)" :site-id="siteId" :may-manage="mayManage" />
      </section>
      <section v-if="mayManage" aria-labelledby="invitations">
        <h2 id="invitations" class="mb-2">Invite</h2>
        <InvitationList :site-id="siteId" :time-zone="site?.timeZone ?? 'UTC'" />
      </section>
    </div>
  </div>
</template>
