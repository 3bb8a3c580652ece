const OPEN = new Set(['/sign-in', '/first-owner'])

/** Links of letters lead here, whoever is signed in. */
const DOORS = new Set(['/forgot', '/reset', '/join', '/less'])

/** Leads whoever is not signed in to the sign-in, and the very first visitor to creating the owner. */
export default defineNuxtRouteMiddleware(async (to) => {
  if (DOORS.has(to.path)) return undefined
  const account = await useAccountStore()
    .load()
    .catch(() => null)
  if (!account) return to.path === '/sign-in' ? undefined : navigateTo('/sign-in')
  if (account.needsOwner) return to.path === '/first-owner' ? undefined : navigateTo('/first-owner')
  if (!account.person)
    return to.path === '/sign-in'
      ? undefined
      : navigateTo({ path: '/sign-in', query: to.path === '/' ? {} : { next: to.fullPath } })
  if (OPEN.has(to.path) || to.path === '/') {
    const [first] = account.sites
    return navigateTo(first ? `/sites/${first.id}/today` : '/sites/new')
  }
  const { site } = to.params as { site?: string }
  if (site !== undefined && !account.sites.some(({ id }) => String(id) === site))
    return abortNavigation(createError({ statusCode: 404, statusMessage: 'There is no such site.' }))
})
