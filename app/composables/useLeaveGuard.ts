/**
 * Asks before somebody leaves with something that is typed and not kept.
 *
 * @param isUnkept - whether there is anything to lose just now
 */
export function useLeaveGuard(isUnkept: () => boolean): void {
  useEventListener(window, 'beforeunload', (event) => isUnkept() && event.preventDefault())
  onBeforeRouteLeave(() => !isUnkept() || window.confirm('What you typed is not saved. Leave anyway?'))
}
