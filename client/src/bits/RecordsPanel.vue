<script setup lang="ts">
import { ref } from 'vue'
import type { Asked, CutAnswer, CutSettings } from '../api/types'
import { grouped, length, minutes, rate, rate_unit } from '../units/format'
import { STANDING } from './draw'

/** What was cut here: what the records say of the settings in question, what stands against them, what other ground lends; another record. */
const props = defineProps<{ asked: Asked; now: CutAnswer; busy: boolean }>()
const emit = defineEmits<{ keep: [outcome: string, origin: string, note: string]; withdraw: [id: number]; take: [settings: CutSettings] }>()
const OUTCOMES = ['fine', 'slow', 'burning', 'chatter', 'torn', 'broke'].map((v) => ({ title: v[0].toUpperCase() + v.slice(1), value: v }))
const [outcome, note, asks] = [ref(''), ref(''), ref(false)]
const FEW = 8
const shown = ref(FEW)
/** A cut is kept as what somebody says became of it; nobody's silence proves one. */
function keep(origin: string) {
  asks.value = !outcome.value
  if (asks.value) return
  emit('keep', outcome.value, origin, note.value)
  note.value = outcome.value = ''
}
const standing = () => STANDING[props.now.trust.standing]
const feed_of = (chip: number) => chip * (props.now.settings.feed_mm_min / props.now.chip_mm)
</script>

<template>
  <section>
    <h2>What was cut here</h2>
    <p><span class="mark" :class="now.trust.standing">{{ standing().mark }}</span> <b>{{ standing().words }}</b><template v-if="now.trust.standing === 'untried' && now.trust.beyond > 1.005">: {{ now.trust.beyond.toFixed(2) }} times what was</template>.
      <template v-if="now.trust.high_mm !== null && now.trust.low_mm !== null"> Trusted at this depth: feed {{ rate(feed_of(now.trust.low_mm)) }}{{ now.trust.high_mm > now.trust.low_mm * 1.005 ? ` to ${rate(feed_of(now.trust.high_mm))}` : '' }} {{ rate_unit }}.</template><template v-if="now.trust.fails_mm !== null"> It failed from {{ rate(feed_of(now.trust.fails_mm)) }} on.</template></p>
    <p v-if="!asked.trials.length" class="second">Nobody has kept a cut with this bit, wood and machine. Make one, listen, and keep what became of it.</p>
    <p v-for="t in asked.trials.slice(0, shown)" :key="t.id" class="one" :class="{ doubted: t.doubted }">
      <span>{{ t.words }}{{ t.origin === 'own' ? '' : `, ${t.origin}` }}{{ t.note ? `. ${t.note}` : '' }}<span
        v-if="t.doubted" class="least">. Not counted: {{ t.doubted }}</span></span>
      <button class="plain" :aria-label="`Withdraw: ${t.words}`" @click="emit('withdraw', t.id)">withdraw</button></p>
    <p v-if="asked.trials_in_all > shown" class="second">Of {{ asked.trials_in_all }} cuts here the newest {{
      Math.min(shown, asked.trials.length) }}. <button v-if="shown < asked.trials.length" class="plain"
      @click="shown = asked.trials.length">Show {{ asked.trials.length - shown }} more</button><span v-else>All of them
      count; the older ones are not listed.</span></p>
    <div class="row"><v-select v-model="outcome" :items="OUTCOMES" label="These settings went" placeholder="say how"
      persistent-placeholder /><v-text-field v-model="note" label="Note" maxlength="1000" /></div>
    <div class="acts"><button class="go" :disabled="busy" @click="keep('own')">Keep this cut</button><button
      class="plain" @click="keep('told')">Only told by others</button></div>
    <p v-if="asks && !outcome" class="ember" role="alert">Say first how they went; a cut counts as what became
      of it.</p>
    <template v-if="asked.lent.length">
      <h2>Lent by other ground</h2>
      <div v-for="(l, k) in asked.lent.slice(0, 3)" :key="k" class="lent"><p><b>{{ l.from }}</b>: feed {{ rate(l.settings.feed_mm_min) }} {{ rate_unit }} at {{ grouped(l.settings.speed_rpm) }}, {{ length(l.settings.depth_of_cut_mm) }} deep. <span class="least">{{ l.risk }}{{ l.derated < 0.995 ? `, ${Math.round(100 * l.derated)} % of its depth for a weaker machine` : '' }}; {{ minutes(l.minutes) }} min {{ asked.per === 'metre' ? 'for a metre' : 'for 100 cm³' }}, {{ l.more_minutes > 0.02 ? `${l.more_minutes.toFixed(l.more_minutes < 1 ? 2 : 1)} more than computed` : 'no more than computed' }}.</span></p><button class="cure" @click="emit('take', l.settings)">Look at these</button></div>
    </template>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.one { display: flex; justify-content: space-between; gap: 10px; border-top: 1px solid var(--rule); padding-top: 4px; }
.ember { color: var(--ember); }
.doubted { color: var(--ink3); }
.mark { font-weight: 700; } .proven, .covered { color: var(--moss); } .failed { color: var(--ember); }
.row { display: grid; grid-template-columns: 150px 1fr; gap: 8px; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.lent { display: flex; gap: 10px; justify-content: space-between; align-items: flex-start; border-top: 1px solid var(--rule); padding-top: 5px; }
.lent .cure { flex: none; }
</style>
