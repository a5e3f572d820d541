<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { MachineRow, MaterialRow, Me, OwnShop, RackRow } from '../api/types'
import { length, unit } from '../units/format'
import BackupPanel from './BackupPanel.vue'
import BedDrawing from './BedDrawing.vue'
import PeoplePanel from './PeoplePanel.vue'
import TopNav from './TopNav.vue'

/** The shop itself. Where something is missing it leads: name and unit, machine, bits, first job. */
const router = useRouter()
const shop = ref<OwnShop | null>(null)
const machines = ref<MachineRow[]>([])
const rack = ref<RackRow[]>([])
const materials = ref<MaterialRow[]>([])
const me = ref<Me | null>(null)
const name = ref('')
const wrong = ref('')
async function load() {
  try {
    [shop.value, machines.value, me.value] = await Promise.all([api.own_shop(), api.machines(), api.me()])
    name.value = shop.value.name
    rack.value = await api.rack()
    materials.value = await api.materials()
  } catch (error) {
    if (error instanceof BirchFailure && error.status === 401) await router.replace('/signed-out')
    else wrong.value = (error as Error).message
  }
}
onMounted(load)
async function keep() {
  wrong.value = ''
  try {
    shop.value = await api.keep_shop(name.value, unit.value)
  } catch (error) { wrong.value = (error as Error).message }
}
async function use_unit(u: 'mm' | 'inch') {
  unit.value = u
  if (shop.value?.named) await keep()
}
const woods = computed(() => {
  const own = materials.value.filter((m) => m.own).map((m) => m.wood.name)
  const weighed = materials.value.filter((m) => m.weighed).length
  const said = [
    own.length ? own.join(', ') : 'The table will do for a start',
    weighed ? `${weighed} weighed here` : 'none weighed yet',
  ]
  return `${said.join('; ')}.`
})
const bits = computed(() => rack.value.filter((r) => r.state === 'on_hand'))
const steps = computed(() => [
  {
    name: 'Name and unit', done: !!shop.value?.named, to: '', go: ['', ''],
    says: shop.value?.named ? `${shop.value.name}, ${shop.value.unit}` : 'one minute',
  },
  {
    name: 'The machine', done: machines.value.length > 0, to: '/shop/machines/new',
    go: ['Choose the machine', 'Another machine'],
    says: machines.value.map((m) => m.machine.name).join(', ') || 'one choice, then what differs',
  },
  {
    name: 'First bits', done: (shop.value?.bits ?? 0) > 0, to: '/shop/bits', go: ['Look through the bits', 'The rack'],
    says: shop.value?.bits ? `${bits.value.length} on hand` : 'which hang in your shop',
  },
  {
    name: 'Woods', done: materials.value.some((m) => m.own || m.weighed), to: '/shop/woods', optional: true,
    go: ['Look through the woods', 'The woods'], says: woods.value,
  },
  {
    name: 'First job', done: (shop.value?.jobs ?? 0) > 0, to: '/new', go: ['Start a job', 'Another job'],
    says: shop.value?.jobs ? `${shop.value.jobs} on the bench` : 'from a shape or a part you hold',
  },
])
const next = computed(() => steps.value.findIndex((s) => !s.done && !('optional' in s)))
const day = (text: string) => (
  new Date(text).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }))
</script>

<template>
  <main class="home-of-shop">
    <TopNav />
    <div v-if="shop" class="cols">
      <ol class="trunk" aria-label="What a shop needs">
        <li v-for="(s, k) in steps" :key="s.name" :class="{ done: s.done, next: k === next }">
          <svg width="44" height="104" viewBox="0 0 44 104" aria-hidden="true">
            <rect v-if="s.done" x="3" width="38" height="104" fill="#f8f5ef" stroke="#b3a893" />
            <g v-if="s.done" fill="#1d1a17"><path v-for="n in 4" :key="n"
              :d="`M${8 + ((n * (k + 3) * 5) % 14)} ${n * 23 - 8}q6 -3 14 0q-6 2.6 -14 0z`" /></g>
            <path v-else d="M3 0V104M41 0V104" fill="none" stroke="var(--edge)" stroke-width="1.6"
              stroke-dasharray="6 5" />
            <path v-if="k === next" d="M0 1H44" stroke="var(--moss)" stroke-width="3" />
          </svg>
          <div><b>{{ s.name }}</b><span class="second">{{ s.says }}</span>
            <router-link v-if="s.to && (k === next || s.done || 'optional' in s)" :class="k === next ? 'cure' : 'plain'"
              :to="s.to">{{ s.go[s.done ? 1 : 0] }}</router-link></div>
        </li>
      </ol>
      <div class="rest">
        <h1>{{ shop.named ? shop.name : 'Your shop' }}</h1>
        <p v-if="!shop.named"
          class="word lead">Nothing is here yet. Say what the shop is called and how it measures; then the machine,
          then the first job. To look round first, <b>./birch demo</b> fills a shop apart from yours.</p>
        <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
        <form class="named" @submit.prevent="keep">
          <v-text-field v-model="name" label="Name of the shop" maxlength="80"
            @change="shop.named ? keep() : undefined" />
          <div class="choice" role="radiogroup" aria-label="The shop measures in">
            <button v-for="u in (['mm', 'inch'] as const)" :key="u" type="button" role="radio"
              :aria-checked="unit === u" :class="{ on: unit === u }" @click="use_unit(u)">{{ u }}</button>
          </div>
          <button v-if="!shop.named" class="go" type="submit">Keep the name</button>
        </form>
        <section v-if="machines.length">
          <h2>Machines</h2>
          <ul class="machines">
            <li v-for="m in machines" :key="m.machine.id">
              <router-link :to="`/shop/machines/${m.machine.id}`">
                <BedDrawing :machine="m.machine" :wide="210" :high="150" />
                <span><b class="word">{{ m.machine.name }}</b>
                  <span class="second">travel {{ m.machine.travel_mm.map((t) => length(t, 0)).join(' × ') }}</span>
                  <span
                    class="second">{{ m.assumed ? `${m.assumed} of ${m.figures_known} figures only assumed` : 'every figure told or measured' }}</span>
                  <span class="least">{{ m.made_by }}, {{ day(m.made_at) }}</span></span>
              </router-link>
            </li>
          </ul>
          <router-link class="plain" to="/shop/machines/new">Another machine</router-link>
        </section>
        <section v-if="machines.length">
          <h2>Bits on hand</h2>
          <p class="second">{{ bits.map((b) => b.bit.name).join(', ') || 'None yet.' }}</p>
          <router-link class="plain" to="/shop/bits">The rack: sizes, readings, lives, other bits</router-link>
        </section>
        <section v-if="machines.length">
          <h2>Woods and other materials</h2>
          <p class="second">{{ woods }}</p>
          <router-link class="plain" to="/shop/woods">Woods: your own, weighed boards, what they resist</router-link>
        </section>
        <template v-if="shop.named && me?.role === 'planner'"><PeoplePanel /><BackupPanel /></template>
      </div>
    </div>
    <p v-else-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </main>
</template>

<style scoped>
.home-of-shop { padding: 6px 34px 24px; height: 100vh; overflow-y: auto; }
.cols { display: grid; grid-template-columns: 300px 1fr; gap: 34px; margin-top: 10px; }
.trunk { list-style: none; padding: 0; margin: 0; }
.trunk li { display: flex; gap: 16px; min-height: 104px; color: var(--ink2); }
.trunk .done, .trunk .next { color: var(--ink); }
.trunk li > div { padding-top: 8px; display: flex; flex-direction: column; gap: 2px; align-items: flex-start; }
.trunk b { font-size: 16px; }
.trunk a { margin-top: 4px; text-decoration: none; }
.lead { font-size: 17px; max-width: 660px; }
.named { display: flex; gap: 14px; align-items: flex-start; max-width: 620px; margin: 12px 0 18px; }
.named .choice { min-height: 36px; }
.named .choice button { min-width: 60px; text-align: center; }
section { border-top: 1px solid var(--rule); padding: 10px 0 14px; }
.machines {
  list-style: none; padding: 0; margin: 4px 0; display: grid;
  grid-template-columns: repeat(auto-fill, minmax(420px, 1fr)); gap: 10px 20px;
}
.machines a { display: flex; gap: 12px; text-decoration: none; align-items: center; }
.machines a > svg { flex: none; }
.machines a:hover { background: var(--bark); }
.machines a > span { display: flex; flex-direction: column; }
.machines b { font-size: 19px; }
.ember { color: var(--ember); }
@media (max-width: 900px) {
  .cols { grid-template-columns: 1fr; }
  .machines { grid-template-columns: 1fr; }
  .named { flex-wrap: wrap; }
}
</style>
