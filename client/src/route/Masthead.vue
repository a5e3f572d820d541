<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { toggle_unit, unit } from '../units/format'
import WhoMenu from '../own/WhoMenu.vue'
import { open, redo, undo } from './store'
import { waits_said } from './waits'

defineProps<{ second?: string }>()
const route = useRoute()
const PLACES = ['measure', 'layout', 'blank', 'shop', 'hold', 'route', 'run']
/** A piece made from numbers has a page of its own in the place of measuring. */
const names = computed(() => {
  const piece = open.state?.document.piece
  const own = piece?.board ? 'board' : piece?.neck ? 'neck' : null
  return own ? [own, ...PLACES.filter((p) => p !== 'measure')] : PLACES
})
const places = computed(() => names.value.map((p) => ({
  to: `/routes/${String(route.params.id)}/${p}`, name: p === 'layout' ? 'Lay out' : p[0].toUpperCase() + p.slice(1),
  here: route.path.endsWith(p) || (p === 'shop' && route.path.endsWith('/bits')),
})))
</script>

<template>
  <header>
    <nav aria-label="Work">
      <router-link to="/" class="home" aria-label="Birch Route, all jobs"><img src="/mark.svg" alt="" width="22" height="22" /> <span class="brand">Birch Route</span></router-link>
      <span class="gap" />
      <router-link v-for="p in places" :key="p.to" :to="p.to" :class="['place', { here: p.here }]" :aria-current="p.here ? 'page' : undefined">{{ p.name }}</router-link>
      <span class="gap" />
      <button class="small" :class="{ none: !open.state?.can_undo }" title="Undo, Ctrl+Z" aria-label="Undo"
        @click="undo">Undo</button>
      <button class="small" :class="{ none: !open.state?.can_redo }" title="Redo, Ctrl+Shift+Z" aria-label="Redo"
        @click="redo">Redo</button>
      <button class="small" :aria-label="`Units: ${unit}. Switch`" title="Units, U" @click="toggle_unit"><template v-for="(u, k) in (['mm', 'inch'] as const)" :key="u"><span v-if="k" class="other"> / </span><b v-if="unit === u">{{ u }}</b><span v-else class="other">{{ u }}</span></template></button>
      <WhoMenu />
    </nav>
    <div class="title">
      <h1>{{ open.state?.document.job ?? ' ' }}</h1>
      <span v-if="open.waits" class="second" role="status">{{ waits_said(open.waits) }}</span>
      <span v-else class="second">{{ second }}</span>
    </div>
  </header>
</template>

<style scoped>
header { container-type: inline-size; position: relative; z-index: 3; }
nav { display: flex; align-items: center; gap: 10px; height: 40px; }
.home { white-space: nowrap; display: flex; gap: 8px; align-items: center; font-weight: 600; text-decoration: none; min-height: 28px; }
.gap { flex: 1; }
.place { white-space: nowrap; text-decoration: none; color: var(--ink2); padding: 4px 2px; position: relative; min-height: 28px; }
.place.here { color: var(--ink); font-weight: 700; }
.place.here::after { content: ''; position: absolute; left: 0; right: 0; bottom: -3px; height: 5px; background: var(--ink); border-radius: 50%; }
.title { display: flex; align-items: baseline; gap: 14px; min-height: 38px; }
.title h1 { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.title .second { flex: 1 1 0; min-width: 0; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.small { min-height: 26px; padding: 2px 2px; color: var(--ink2); white-space: nowrap; }
.none { color: var(--ink3); }
.small:hover { color: var(--ink); text-decoration: underline; }
@container (max-width: 640px) { .brand { display: none; } nav { gap: 8px; padding-right: 20px; } }
@container (max-width: 560px) { .other { display: none; } }
@container (max-width: 460px) { nav { flex-wrap: wrap; height: auto; padding: 4px 0; } .gap { flex: none; } }
</style>
