import type { InjectionKey } from 'vue'

/** Makes a view ready for its picture; resolves to what will be missing in it, in words, or null. */
type Prepare = () => Promise<string | null>
const KEY: InjectionKey<Prepare> = Symbol('before picture')

/** Says what must happen in this view before a picture of it is taken. */
export const provideBeforePicture = (prepare: Prepare) => provide(KEY, prepare)

export function useBeforePicture(): Prepare {
  return inject(KEY, () => Promise.resolve(null))
}
