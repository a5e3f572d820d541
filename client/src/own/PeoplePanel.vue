<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { NetworkShown, PersonRow, SignInLink } from '../api/types'

/** Who is in the shop. Somebody is added by a link that signs in once; it is shown once, as text and to scan. */
const people = ref<PersonRow[]>([])
const link = ref<(SignInLink & { name: string }) | null>(null)
const name = ref('')
const role = ref<PersonRow['role']>('operator')
const wrong = ref('')
const copied = ref(false)
const ROLES = {
  planner: 'plans, releases, records', operator: 'releases, runs, records', viewer: 'only looks',
} as const
async function act(make: () => Promise<void>) {
  wrong.value = ''
  copied.value = false
  try { await make() } catch (error) { wrong.value = (error as Error).message }
}
const network = ref<NetworkShown | null>(null)
const load = () => act(async () => { [people.value, network.value] = await Promise.all([api.people(), api.network()]) })
onMounted(load)
const add = () => act(async () => {
  link.value = { ...(await api.add_person(name.value, role.value)), name: name.value.trim() }
  name.value = ''
  people.value = await api.people()
})
const again = (p: PersonRow) => act(async () => { link.value = { ...(await api.link_for(p.id)), name: p.name } })
const out = (p: PersonRow) => act(async () => {
  people.value = await api.sign_out_person(p.id)
  if (link.value?.name === p.name) link.value = null
})
const change = (p: PersonRow, now: { name?: string; role?: PersonRow['role'] }) => act(async () => {
  try {
    people.value = await api.change_person(p.id, { name: p.name, role: p.role, ...now })
  } catch (error) {
    people.value = await api.people()
    throw error
  }
})
async function copy() {
  await navigator.clipboard.writeText(link.value!.link).catch(() => null)
  copied.value = true
}
const text = (event: Event) => (event.target as HTMLInputElement).value
const day = (t: string) => new Date(t).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
</script>

<template>
  <section aria-label="People">
    <h2>People</h2>
    <ul>
      <li v-for="p in people" :key="`${p.id}${p.name}${p.role}`">
        <input :value="p.name" class="who" maxlength="60" :aria-label="`Name of ${p.name}`"
          @change="(e) => change(p, { name: text(e) })">
        <select :value="p.role" :aria-label="`What ${p.name} may do`"
          @change="(e) => change(p, { role: text(e) as PersonRow['role'] })">
          <option v-for="(what, r) in ROLES" :key="r" :value="r">{{ r }}: {{ what }}</option>
        </select>
        <span
          class="second">{{ p.sessions ? `signed in on ${p.sessions}, last ${day(p.seen_at!)}` : 'signed in nowhere' }}</span>
        <button class="plain" @click="again(p)">New link</button>
        <button v-if="p.sessions" class="plain" @click="out(p)">Sign out everywhere</button>
      </li>
    </ul>
    <form @submit.prevent="add">
      <v-text-field v-model="name" label="Somebody else" maxlength="60" class="name" />
      <select v-model="role" aria-label="What they may do">
        <option v-for="(what, r) in ROLES" :key="r" :value="r">{{ r }}: {{ what }}</option></select>
      <button class="cure" type="submit" :disabled="!name.trim()">Make their link</button>
    </form>
    <p v-if="network?.names.length"
      class="second">On the workshop's network as {{ network.names.join(', ') }}. A tablet asks
      once whether to trust the shop's own certificate; trust it only where its SHA-256 print is
      <code>{{ network.fingerprint }}</code>. It lasts until {{ network.until }}.</p>
    <p v-else-if="network" class="second">Reached on this computer only. To let tablets in, stop it and start it with
      <code>./birch start --network birch.local,192.168.1.20</code>, with the name or address your network gives this
      computer.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <div v-if="link" class="link" role="status">
      <img :src="link.code" alt="The link as a code to scan" width="132" height="132">
      <div><p><b>{{ link.name }}</b> signs in once with this link, within twelve hours. It is shown only now.</p>
        <p class="text">{{ link.link }}</p>
        <p class="least">It leads to this computer's own address: open it in a browser here.</p>
        <button class="cure" @click="copy">{{ copied ? 'Copied' : 'Copy the link' }}</button>
        <button class="plain" @click="link = null">Done</button></div>
    </div>
  </section>
</template>

<style scoped>
section { border-top: 1px solid var(--rule); padding: 10px 0 14px; }
ul { list-style: none; padding: 0; margin: 4px 0 10px; }
li { display: flex; gap: 14px; align-items: center; min-height: 36px; flex-wrap: wrap; }
.who {
  font: inherit; font-weight: 650; color: var(--ink); background: none; border: 0;
  border-bottom: 1.5px solid transparent; width: 150px; min-height: 28px;
}
.who:hover, .who:focus { border-bottom-color: var(--edge); }
select {
  font: inherit; color: var(--ink); background: var(--bark); border: 1px solid var(--edge); border-radius: 2px;
  min-height: 30px; padding: 2px 6px;
}
li .second { min-width: 170px; }
form { display: flex; gap: 14px; align-items: center; flex-wrap: wrap; }
.name { max-width: 220px; }
.link {
  display: flex; gap: 18px; background: var(--bark); border: 1px solid var(--rule); padding: 14px; margin-top: 12px;
}
.link p { margin: 0 0 6px; }
.text { overflow-wrap: anywhere; user-select: all; }
.link .plain { margin-left: 16px; }
.ember { color: var(--ember); }
code { font-family: inherit; font-weight: 600; overflow-wrap: anywhere; }
</style>
