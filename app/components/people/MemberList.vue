<script setup lang="ts">
import type { MemberView } from '~~/shared/accounts/memberReplies'
import type { Role } from '~~/shared/accounts/account'
import type { TableColumn } from '~/data/tableColumn'

/** Who belongs to the organization, and as what. */
const props = defineProps<{ siteId: number; mayManage: boolean }>()
const api = useApi()
const account = useAccountStore()
const notices = useNoticesStore()
const {
  items: members,
  hasMore,
  problem,
  reload,
  loadMore,
} = usePaged((after) => api('listMembers', { site: props.siteId, query: { after } }))
const removing = shallowRef<MemberView | null>(null)
const COLUMNS: readonly TableColumn<MemberView>[] = [
  { id: 'name', header: 'Name', value: ({ name }) => name, isHeading: true },
  { id: 'email', header: 'E-mail address', value: ({ email }) => email },
  { id: 'role', header: 'Role', value: ({ role }) => role },
  ...(props.mayManage ? [{ id: 'actions', header: 'Actions', value: () => null, isDrawing: true }] : []),
]

async function attempt(change: () => Promise<unknown>, done: string): Promise<void> {
  try {
    await change()
    notices.show(done)
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error
    notices.show(error.message, { tone: 'problem' })
  }
  // Whoever changed their own role sees what they may from now on.
  await account.reload()
  if (account.site(props.siteId)) await reload()
  else await navigateTo('/')
}
const setRole = (member: MemberView, role: Role) =>
  attempt(
    () => api('changeRole', { site: props.siteId, member: member.id, body: { role } }),
    `${member.name} is ${role} now.`,
  )
async function remove(): Promise<void> {
  const member = removing.value!
  removing.value = null
  await attempt(
    () => api('removeMember', { site: props.siteId, member: member.id }),
    `${member.name} is not a member any more.`,
  )
}
</script>

<template>
  <div>
    <ProblemNote v-if="problem" :text="problem" @retry="reload" />
    <LoadingNote v-else-if="!members" />
    <template v-else>
      <DataTable label="Members" :columns="COLUMNS" :rows="members" :row-key="({ id }) => id">
        <template #cell-name="{ row }">
          <span>{{ row.name }} <span v-if="row.isSelf" class="text-sm font-normal text-ink-soft">you</span></span>
        </template>
        <template #cell-role="{ row }">
          <RoleChoice
            v-if="mayManage"
            :model-value="row.role"
            :label="`Role of ${row.name}`"
            is-bare
            class="w-32"
            @update:model-value="setRole(row, $event)"
          />
          <template v-else>{{ row.role }}</template>
        </template>
        <template #cell-actions="{ row }">
          <BaseButton kind="quiet" :aria-label="`Remove ${row.name}`" @click="removing = row">Remove</BaseButton>
        </template>
      </DataTable>
      <BaseButton v-if="hasMore" kind="quiet" class="mt-3" @click="loadMore">Show more</BaseButton>
    </template>
    <PlainDialog :open="removing !== null" title="Remove this member?" @update:open="removing = null">
      <p>{{ removing?.name }} loses access to all sites of the organization at once. What they did stays.</p>
      <template #actions>
        <BaseButton kind="quiet" @click="removing = null">Cancel</BaseButton>
        <BaseButton kind="main" @click="remove">Remove</BaseButton>
      </template>
    </PlainDialog>
  </div>
</template>
