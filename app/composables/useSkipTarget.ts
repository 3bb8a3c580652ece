/** A place on the page that a keyboard gets to at once, past everything before it. */
interface SkipTarget {
  /** Such as `the table`. */
  name: string
  focus: () => void
}

const targets = shallowRef<SkipTarget[]>([])

/**
 * Offers a skip link to a part of the page, as long as it is there. Of several of one name the first is offered.
 *
 * @param focus - moves the focus there
 */
export function useSkipTarget(name: string, focus: () => void): void {
  const target = { name, focus }
  onMounted(() => (targets.value = [...targets.value, target]))
  onBeforeUnmount(() => (targets.value = targets.value.filter((each) => each !== target)))
}

/** What skip links lead to now. */
export function useSkipTargets() {
  return computed(() =>
    targets.value.filter(({ name }, place, all) => all.findIndex((each) => each.name === name) === place),
  )
}
