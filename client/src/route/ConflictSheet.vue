<script setup lang="ts">
import { computed } from 'vue'
import type { Edit } from '../api/types'
import { length, rate, say } from '../units/format'
import { mine_again, mine_again_possible, open, take_theirs } from './store'

/** Two changed the same job at once: theirs beside mine, and which of the two is to stand. */
interface Done { revision: number; what: string; author: string }
interface Theirs { revision: number; author: string; document: unknown; since: Done[] }
interface Mine { revision: number; edits: Edit[]; words: string[]; document: unknown }
const theirs = computed(() => open.conflict!.facts.theirs as Theirs)
const mine = computed(() => open.conflict!.facts.yours as Mine)

/** What stands at a path of a document; lists are asked by id. */
function at(data: unknown, path: string): unknown {
  return path.split('.').reduce<unknown>((inner, key) => {
    if (Array.isArray(inner)) return inner.find((x) => (x as { id?: string }).id === key) ?? inner[Number(key)]
    return typeof inner === 'object' && inner !== null ? (inner as Record<string, unknown>)[key] : undefined
  }, data)
}
function said(value: unknown, path: string): string {
  if (value === undefined || value === null) return 'nothing'
  if (typeof value !== 'number') return typeof value === 'string' || typeof value === 'boolean' ? String(value) : 'set'
  if (path.endsWith('_mm_min')) return rate(value)
  return path.endsWith('_mm') ? length(value, 2) : String(value)
}
/** A field in words: what it belongs to by its name, and which of its numbers. */
function named(path: string): string {
  const steps = path.split('.')
  const field = steps.at(-1)!.replace(/_(mm_min|mm2|mm|rpm|deg|kg|pct|min)$/, '').replaceAll('_', ' ')
  const whose = at(theirs.value.document, steps.slice(0, 2).join('.')) as { name?: string } | undefined
  return whose?.name ? `${whose.name}, ${field}` : [...steps.slice(0, -1), field].join(', ').replaceAll('_', ' ')
}
/** What I set, with what it was, what it is now, and what I would make it. */
const rows = computed(() => mine.value.edits.map((edit, k) => {
  const path = edit.do === 'set' ? String(edit.path) : ''
  const [was, now] = [at(mine.value.document, path), at(theirs.value.document, path)]
  const both = path !== '' && JSON.stringify(was) !== JSON.stringify(now)
  return { words: path ? named(path) : say(mine.value.words[k]), path, both,
    was: said(was, path), now: said(now, path),
    mine: path ? said((edit as { value?: unknown }).value, path) : '' }
}))
const clash = computed(() => rows.value.some((r) => r.both))
</script>

<template>
  <section class="conflict" role="alertdialog" aria-label="Two changes at once" aria-describedby="conflict-said">
    <p id="conflict-said" class="word">{{ theirs.author }} changed this job while you did. {{ clash ?
      'Both of you set the same thing.' : 'You changed different things.' }} Nothing is lost: theirs stays in the
      history, mine waits here until you choose.</p>
    <div class="both">
      <div>
        <h2>Theirs, as it stands</h2>
        <ol><li v-for="s in theirs.since" :key="s.revision"><b>{{ say(s.what) }}</b>
          <span class="second">{{ s.author }}, revision {{ s.revision }}</span></li></ol>
      </div>
      <div>
        <h2>Mine, not yet made</h2>
        <ul>
          <li v-for="(r, k) in rows" :key="k"><b>{{ r.words }}</b>
            <span v-if="r.path" :class="r.both ? 'clash' : 'second'">. It was {{ r.was }}, theirs {{
              r.both ? 'made it' : 'left it' }} {{ r.now }}, mine makes it {{ r.mine }}</span></li>
          <li v-if="!rows.length"><b>Nothing that can be made again.</b></li>
        </ul>
      </div>
    </div>
    <p class="acts"><button class="cure" @click="take_theirs">Keep theirs, leave mine</button>
      <button v-if="mine_again_possible()" class="cure lead" @click="mine_again">Make mine on top of theirs</button></p>
  </section>
</template>

<style scoped>
.conflict { background: var(--bark); border: 1.5px solid var(--ember); border-left-width: 8px; padding: 12px 16px;
  display: flex; flex-direction: column;
  gap: 10px; max-height: 70vh; overflow-y: auto; }
.both { display: grid; grid-template-columns: 1fr 1fr; gap: 24px; }
p, ol, ul { margin: 0; } ol, ul { padding-left: 18px; }
.clash { color: var(--ember); }
.acts { display: flex; gap: 12px; flex-wrap: wrap; }
@media (max-width: 760px) { .both { grid-template-columns: 1fr; gap: 12px; } }
</style>
