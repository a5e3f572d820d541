import { computed, type ComputedRef } from 'vue'
import type { AssumedNumber } from '../api/types'
import { edit, open } from '../route/store'

/** The number in a field, where nobody has said it yet and what is usual stands there. */
export function assumed_at(path: () => string): ComputedRef<AssumedNumber | undefined> {
  return computed(() => open.state?.drawing.assumed.find((a) => a.path === path()))
}

/** Say of a number that it is meant as it stands. */
export function say_mine(one: AssumedNumber): Promise<boolean> {
  return edit([{ do: 'say_mine', path: one.path }], `${one.name}: meant as it stands`)
}
