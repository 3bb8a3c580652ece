import { safely } from '../snippet/safely'

const NAME = 'vetch_panel'

/** Variants that somebody has chosen for themselves in this tab, by experiment. */
export function keptChoices(): Record<number, number> {
  return safely(() => JSON.parse(sessionStorage.getItem(NAME) ?? '{}') as Record<number, number>) ?? {}
}

/** @param variant - its position; null for as it is decided */
export function keepChoice(experiment: number, variant: number | null): void {
  const { [experiment]: _, ...rest } = keptChoices()
  const choices = variant === null ? rest : { ...rest, [experiment]: variant }
  safely(() => sessionStorage.setItem(NAME, JSON.stringify(choices)))
}
