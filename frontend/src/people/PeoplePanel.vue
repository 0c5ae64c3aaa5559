<script setup lang="ts">
/** Who works here: what each may do, the devices they are signed in with, and joining by a code. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import type { components } from '../api/schema.gen'
import { asks, me, type Person } from '../api/signedIn'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import { dateClock } from '../ui/locale'
import CodeDialog from './CodeDialog.vue'
import DeedList from './DeedList.vue'
import { emptying, useHalfTyped } from '../ui/halfTyped'

const ROLES = [
  { value: 'fitter', label: 'fitter' },
  { value: 'owner', label: 'owner' },
] as const
const queries = useQueryClient()
const { data } = useQuery({ queryKey: ['people'], queryFn: () => answered(client.GET('/api/people')), gcTime: 0 })
const shown = ref<components['schemas']['InvitationOut'] | null>(null)
const name = useHalfTyped('people', '')
const role = ref<Person['role']>('fitter')
const trouble = ref('')
function refused(error: unknown): void {
  trouble.value = whyOf(error, 'The server does not answer; nothing was changed.')
}
const act = useMutation({
  mutationFn: async (work: () => Promise<unknown>) => {
    trouble.value = ''
    await work()
    await queries.invalidateQueries({ queryKey: ['people'] })
  },
  onError: refused,
})
function invite(): void {
  if (act.isPending.value) return
  act.mutate(async () => {
    const taken = emptying(name)
    shown.value = await answered(
      client.POST('/api/people', { body: { name: name.value, initials: '', role: role.value } }),
    )
    taken()
  })
}
const codeFor = (person: Person) =>
  act.mutate(async () => {
    const params = { path: { number: person.id } }
    shown.value = await answered(client.POST('/api/people/{number}/code', { params }))
  })
const change = (person: Person, more: Partial<Pick<Person, 'role' | 'active'>>) =>
  act.mutate(() =>
    answered(
      client.PUT('/api/people/{number}', {
        params: { path: { number: person.id } },
        body: { role: person.role, active: person.active, ...more },
      }),
    ),
  )
const signOut = (device: number) =>
  act.mutate(() => answered(client.DELETE('/api/devices/{number}', { params: { path: { number: device } } })))
</script>

<template>
  <section class="panel people" aria-label="People">
    <div class="bench-head">
      <h2>People</h2>
      <span class="aside">{{
        asks ? `signed in as ${me?.name ?? ''}` : 'asked for once it is served beyond this machine'
      }}</span>
    </div>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <p v-if="data?.people.length === 0" class="muted">
      Nobody yet. On this machine nobody is asked; who is to come in from elsewhere joins by a one-time address.
    </p>
    <ul>
      <li v-for="person in data?.people ?? []" :key="person.id" :data-person="person.name">
        <b :class="{ muted: !person.active }">{{ person.name }}</b>
        <span class="muted">{{ person.initials }}{{ person.active ? '' : ', does not work here any more' }}</span>
        <Select
          :model-value="person.role"
          :options="[...ROLES]"
          option-label="label"
          option-value="value"
          size="small"
          :aria-label="`What ${person.name} may do`"
          @update:model-value="change(person, { role: $event })"
        />
        <span class="acts">
          <button
            v-if="person.active"
            type="button"
            class="link"
            :aria-label="`Join a device of ${person.name}`"
            @click="codeFor(person)"
          >
            join a device
          </button>
          <button
            type="button"
            class="link"
            :aria-label="`${person.active ? 'Sign out for good' : 'Take back'} ${person.name}`"
            @click="change(person, { active: !person.active })"
          >
            {{ person.active ? 'leaves' : 'comes back' }}
          </button>
        </span>
        <div
          v-for="device in (data?.devices ?? []).filter((item) => item.person === person.id)"
          :key="device.id"
          class="device muted"
        >
          {{ device.device }}, last used {{ dateClock(device.seen_at) }}{{ device.here ? ', this one' : '' }}
          <button
            type="button"
            class="link"
            :aria-label="`Sign out ${device.device} of ${person.name}`"
            @click="signOut(device.id)"
          >
            sign out
          </button>
        </div>
      </li>
    </ul>
    <form class="invite" @submit.prevent="invite">
      <label for="invite-name">Somebody new</label>
      <InputText
        id="invite-name"
        v-model="name"
        size="small"
        placeholder="name, or leave it to them"
        maxlength="80"
        autocomplete="off"
      />
      <Select
        v-model="role"
        :options="[...ROLES]"
        option-label="label"
        option-value="value"
        size="small"
        aria-label="May do"
      />
      <Button type="submit" label="Invite" size="small" severity="secondary" variant="outlined" data-invite />
    </form>
    <DeedList v-if="data?.people.length" />
    <CodeDialog v-model="shown" />
  </section>
</template>

<style scoped>
.people {
  display: grid;
  gap: 8px;
  font-size: var(--text);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto auto;
  gap: 2px 12px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
.device {
  grid-column: 1 / -1;
  padding-left: 14px;
}
.acts,
.invite {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .link {
    min-height: 44px;
  }
}
</style>
