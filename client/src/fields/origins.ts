/** Where numbers of cut settings come from, fetched once. */
import { api } from '../api/client'
import type { OriginOf } from '../api/types'

let known: Promise<Record<string, OriginOf>> | null = null

export async function origin_of(key: string): Promise<OriginOf | null> {
  known ??= api.origins()
  try {
    return (await known)[key] ?? null
  } catch {
    known = null
    return null
  }
}
