<script setup lang="ts">
import { useRoute } from 'vue-router'
import { toggle_unit, unit } from '../units/format'
import WhoMenu from './WhoMenu.vue'

/** The places outside a job: the bench with its jobs, and the shop itself. */
const route = useRoute()
const places = [{ to: '/', name: 'Bench' }, { to: '/shop', name: 'Shop' }]
const here = (to: string) => (to === '/' ? route.path === '/' : route.path.startsWith(to))
</script>

<template>
  <nav aria-label="Places">
    <router-link to="/" class="home" aria-label="Birch Route, all jobs">
      <img src="/mark.svg" alt="" width="22" height="22" /> <span class="brand">Birch Route</span>
    </router-link>
    <span class="gap" />
    <router-link
      v-for="p in places" :key="p.to" :to="p.to" :class="['place', { here: here(p.to) }]"
      :aria-current="here(p.to) ? 'page' : undefined"
    >{{ p.name }}</router-link>
    <span class="gap" />
    <button class="small" :aria-label="`Units: ${unit}. Switch`" title="Units" @click="toggle_unit">
      <b>{{ unit }}</b><span class="other"> / {{ unit === 'mm' ? 'inch' : 'mm' }}</span>
    </button>
    <WhoMenu />
  </nav>
</template>

<style scoped>
nav { display: flex; align-items: center; gap: 18px; height: 40px; }
.home { white-space: nowrap; display: flex; gap: 8px; align-items: center; font-weight: 600; text-decoration: none; }
.gap { flex: 1; }
.place { text-decoration: none; color: var(--ink2); padding: 4px 2px; position: relative; min-height: 28px; }
.place.here { color: var(--ink); font-weight: 700; }
.place.here::after {
  content: ''; position: absolute; left: 0; right: 0; bottom: -3px; height: 5px; background: var(--ink);
  border-radius: 50%;
}
.small { min-height: 28px; white-space: nowrap; }
.other { color: var(--ink3); }
@media (max-width: 600px) { .brand, .other { display: none; } nav { gap: 10px; } }
</style>
