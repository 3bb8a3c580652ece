/**
 * One choice of a view, kept in the address, so that a link shows what its sender saw. What is not among the values
 * reads as the first of them; the first is not written down.
 */
export function useQueryChoice<Value extends string>(name: string, values: () => readonly Value[]) {
  const route = useRoute()
  const change = useQueryChange()
  return computed<Value>({
    get: () => values().find((value) => value === route.query[name]) ?? values()[0]!,
    set: (value) => change(({ [name]: _, ...rest }) => (value === values()[0] ? rest : { ...rest, [name]: value })),
  })
}
