<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { Layout, Point } from '../api/types'
import Masthead from '../route/Masthead.vue'
import { open, open_route } from '../route/store'
import { grouped, length } from '../units/format'
import HeightSolver from './HeightSolver.vue'
import WireHole from './WireHole.vue'

/** Where everything stands on the body, and the numbers that put it there. */
const route = useRoute()
const id = Number(route.params.id)
const layout = ref<Layout | null>(null)
const wrong = ref('')
const over = ref('')
onMounted(async () => { await open_route(id) })
watch(() => open.state?.hash, async (hash) => {
  if (!hash) return
  try { layout.value = await api.layout(id); wrong.value = '' } catch (error) { wrong.value = (error as Error).message }
}, { immediate: true })
const solids = computed(() => open.state?.drawing.solids ?? [])
const outline = computed(() => solids.value.find((s) => s.kind === 'outline'))
const box = computed(() => {
  const rings = [...solids.value.flatMap((s) => s.rings), ...(layout.value?.ghosts ?? []).map((g) => g.ring)].flat()
  const xs = rings.map((p) => p[0])
  const ys = rings.map((p) => p[1])
  return xs.length ? { x0: Math.min(...xs) - 12, x1: Math.max(...xs) + 12, y0: Math.min(...ys) - 12, y1: Math.max(...ys) + 12 } : { x0: 0, x1: 1, y0: 0, y1: 1 }
})
const line = (ring: Point[]) => `M${ring.map(([x, y]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`).join('L')}Z`
const board = computed(() => layout.value?.ghosts.find((g) => g.name.endsWith('board'))?.ring)
const half_at = (x: number) => {
  const r = board.value
  if (!r) return 20
  return Math.abs(r[0][1]) + ((x - r[0][0]) / (r[1][0] - r[0][0])) * (Math.abs(r[1][1]) - Math.abs(r[0][1]))
}
const mass = computed(() => layout.value?.weight)
const heaviest = computed(() => [...(mass.value?.shares ?? [])].filter((s) => s.grams > 0.5).sort((a, b) => b.grams - a.grams))
const side = (mm: number) => (Math.abs(mm) < 0.05 ? 'on the centre line' : `${length(Math.abs(mm), 1)} to the ${mm > 0 ? 'treble' : 'bass'} side`)
</script>

<template>
  <main class="layout">
    <div class="left">
      <Masthead second="Where everything stands" />
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <svg v-if="layout" class="plan" :viewBox="`${box.x0} ${-box.y1} ${box.x1 - box.x0} ${box.y1 - box.y0}`" role="img" aria-label="The piece with its parts, strings and frets">
        <path v-for="(r, k) in outline?.rings ?? []" :key="k" :d="line(r)" fill="#d6a679" stroke="#1d1a17" stroke-width="1" />
        <path :d="`M${box.x0} 0H${box.x1}`" stroke="#4f4840" stroke-width=".5" stroke-dasharray="9 3 2 3" />
        <g v-for="s in solids.filter((s) => s.kind !== 'outline')" :key="s.id"><path v-for="(r, k) in s.rings" :key="k" :d="line(r)" :fill="over === s.id ? '#8a5f3a' : '#b98d63'" stroke="#1d1a17" :stroke-width="over === s.id ? 1.4 : 0.6" @pointerenter="over = s.id" @pointerleave="over = ''" /></g>
        <path v-for="(g, k) in layout.ghosts" :key="k" :d="line(g.ring)" :fill="g.name.endsWith('board') ? '#5d433533' : 'none'" stroke="#1d1a17" stroke-width=".8" stroke-dasharray="3 2"><title>{{ g.name }}</title></path>
        <path v-for="(x, k) in layout.frets" :key="`f${k}`" :d="`M${x} ${-half_at(x)}V${half_at(x)}`" stroke="#1d1a17" :stroke-width="k === 0 ? 1.6 : 0.6" />
        <path v-for="(s, k) in layout.strings?.lines ?? []" :key="`s${k}`" :d="`M${s[0]} ${-s[1]}L${s[2]} ${-s[3]}`" stroke="#1d1a17" stroke-width=".5" />
        <path v-if="layout.saddle" :d="`M${layout.saddle.x_mm} -52V52`" stroke="#3c5a29" stroke-width="1.6" />
        <path v-for="(p, k) in layout.strings?.poles ?? []" :key="`p${k}`" :d="`M${p.x_mm} ${-p.poles_mm / 2}V${p.poles_mm / 2}`" :stroke="p.within ? '#3c5a29' : '#a5301a'" stroke-width="1.4" />
        <g v-if="mass"><circle :cx="mass.x_mm" :cy="-mass.y_mm" r="5" fill="#fbf9f5" stroke="#1d1a17" /><path :d="`M${mass.x_mm} ${-mass.y_mm}v-5a5 5 0 0 1 5 5zM${mass.x_mm} ${-mass.y_mm}v5a5 5 0 0 1 -5 -5z`" fill="#1d1a17" /></g>
      </svg>
      <p class="second">Dashed: parts at their measured sizes, never cut. Green: the saddle line. The quartered circle: where the piece balances.</p>
      <div v-if="layout" class="under">
        <section><h2>Walls and floors</h2>
          <table class="rows"><thead><tr><th>Feature</th><th>deep</th><th>floor</th><th>outside</th><th>nearest</th><th>wall</th></tr></thead><tbody>
            <tr v-for="c in layout.clearances" :key="c.feature" :class="{ over: over === c.feature }" tabindex="0" @pointerenter="over = c.feature" @pointerleave="over = ''" @focus="over = c.feature">
              <td>{{ c.name }}</td><td>{{ c.depth_mm === null ? 'thru' : length(c.depth_mm, 1) }}</td><td>{{ c.floor_mm === null ? '–' : length(c.floor_mm, 1) }}</td><td>{{ c.to_outside_mm > 0 ? length(c.to_outside_mm, 1) : 'open' }}</td><td>{{ c.nearest ?? '–' }}</td><td>{{ length(c.wall_mm, 1) }}</td>
            </tr></tbody></table></section>
        <section v-if="mass"><h2>Weight</h2>
          <p><b class="big">{{ mass.kg.toFixed(2) }} kg</b>, {{ mass.density_from === 'weighed' ? 'from the blank you weighed' : `from the wood table, ${grouped(mass.density_kg_m3)} kg/m³: weigh the blank` }}. It balances {{ length(mass.x_mm, 0) }} from the neck end, {{ side(mass.y_mm) }}.</p>
          <p v-for="s in heaviest.slice(0, 6)" :key="s.feature" class="share"><span>{{ s.name }}</span><b>−{{ grouped(s.grams) }} g</b></p></section>
      </div>
    </div>
    <aside class="right sheet">
      <template v-if="layout">
        <section><h2>The saddle line, twice</h2>
          <template v-if="layout.saddle">
            <p><b class="big">{{ length(layout.saddle.from_heel_mm) }}</b> from the heel’s end.<br /><span class="second">{{ layout.saddle.words }}.</span></p>
            <p v-if="layout.saddle.again_mm !== null"><b class="big">{{ length(layout.saddle.again_mm) }}</b> again, from the nut.<br /><span class="second">{{ layout.saddle.again_words }}.</span></p>
            <p v-else class="word">Measure nut to 12th fret, and the same place is found a second way.</p>
            <p v-if="layout.scale && !layout.scale.agrees" class="care" role="alert">The scale is {{ length(layout.scale.stated_mm) }} by name and {{ length(layout.scale.measured_mm) }} by caliper. Find out which before you drill.</p>
            <p v-else-if="layout.saddle.differ_mm !== null" class="word">The two differ by {{ length(Math.abs(layout.saddle.differ_mm)) }}. Hold the real neck against it before a post hole is cut.</p>
          </template>
          <p v-else class="word">Measure the heel and choose the scale, and the saddle line is found here.</p></section>
        <HeightSolver v-if="layout.heights" :key="open.state?.hash" :route="id" :first="layout.heights" />
        <section v-if="layout.strings"><h2>Strings</h2>
          <p v-for="g in layout.strings.gaps" :key="g.place" :class="{ care: !g.enough }">{{ g.place }}: outer strings {{ length(g.bass_mm, 1) }} and {{ length(g.treble_mm, 1) }} inside the board’s edge{{ g.enough ? '' : `; ${length(g.least_mm, 1)} is the least` }}.</p>
          <p v-for="p in layout.strings.poles" :key="p.part" :class="{ care: !p.within }">{{ p.part }}: poles {{ length(p.poles_mm, 1) }} apart under strings {{ length(p.strings_mm, 1) }} apart.</p></section>
        <section v-if="layout.screws.length"><h2>Neck screws</h2>
          <p v-for="s in layout.screws" :key="s.part" :class="{ care: !s.clear }">{{ s.part }}, {{ length(s.long_mm, 1) }} long: through {{ length(s.body_mm, 1) }} of body, {{ length(s.bite_mm, 1) }} into {{ length(s.heel_wood_mm, 1) }} of heel.{{ s.clear ? '' : s.bite_mm <= 0 ? ' It does not reach.' : ' Its tip comes too near the fretboard.' }}{{ s.board_known ? '' : ' Measure the board alone.' }}</p></section>
        <WireHole :thickness="(open.state?.document.blank.thickness_mm ?? 45) - (open.state?.document.blank.skim_mm ?? 0)" :solids="solids" />
        <p v-if="layout.missing.length" class="second">Still to measure: {{ [...new Set(layout.missing)].slice(0, 8).join('; ') }}.</p>
      </template>
    </aside>
  </main>
</template>

<style scoped>
.layout { display: grid; grid-template-columns: minmax(520px, 1fr) 400px; height: 100vh; }
.left { padding: 6px 24px 14px 34px; overflow-y: auto; display: flex; flex-direction: column; gap: 8px; min-height: 0; }
.plan { width: 100%; max-height: 46vh; flex: none; }
.left p { margin: 0; }
.under { display: grid; grid-template-columns: 1.6fr 1fr; gap: 28px; }
.rows { border-collapse: collapse; width: 100%; margin-top: 4px; }
.rows th { font-weight: 400; color: var(--ink3); text-align: right; }
.rows td { text-align: right; padding: 4px 0 4px 8px; border-top: 1px solid var(--rule); }
.rows th:first-child, .rows td:first-child, .rows th:nth-child(5), .rows td:nth-child(5) { text-align: left; padding-left: 8px; }
.over { background: var(--bark); font-weight: 600; }
.share { display: flex; justify-content: space-between; border-top: 1px solid var(--rule); padding: 4px 0; }
.right { padding: 16px 20px; overflow-y: auto; display: flex; flex-direction: column; gap: 16px; }
.right p { margin: 4px 0; }
.big { font-size: 19px; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .layout { grid-template-columns: 1fr; height: auto; max-height: 100vh; overflow-y: auto; } .under { grid-template-columns: 1fr; } }
</style>
