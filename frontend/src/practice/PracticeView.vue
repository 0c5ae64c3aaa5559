<script setup lang="ts">
/** Practice: vehicles with something wrong, drills, what was done, and sets that a teacher fixed. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client, whyOf } from '../api/client'
import { me } from '../api/signedIn'
import AppBar from '../app/AppBar.vue'
import { initials } from '../stages/settings/keyed'
import AnswerState from '../ui/AnswerState.vue'
import AttemptList from './AttemptList.vue'
import SetPanel from './SetPanel.vue'
import { nextNumber } from './names'

defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
const router = useRouter()
const by = computed(() => me.value?.name ?? initials.value.trim())
const { data, error, isPending } = useQuery({
  queryKey: ['practice'],
  queryFn: () => answered(client.GET('/api/practice')),
  staleTime: Infinity,
  meta: { said: true },
})
const { data: attempts } = useQuery({
  queryKey: ['practice', 'attempts', by],
  queryFn: () => answered(client.GET('/api/practice/attempts', { params: { query: { by: by.value } } })),
  enabled: computed(() => by.value !== ''),
  gcTime: 0,
})
const done = computed(() => (attempts.value?.attempts ?? []).map((item) => item.name))
const chosen = reactive<Record<string, string>>({})
const numberOf = (prefix: string) => chosen[prefix] ?? String(nextNumber(done.value, prefix))
const MOST = 1_000_000
const trouble = ref({ prefix: '', words: '' })
function typed(prefix: string, text: string): void {
  chosen[prefix] = text
  trouble.value = { prefix: '', words: '' }
}
function begin(prefix: string, address: string): void {
  const text = numberOf(prefix).trim()
  const number = /^\d+$/.test(text) ? Number(text) : 0
  if (number >= 1 && number <= MOST) void router.push(`${address}${String(number)}`)
  else trouble.value = { prefix, words: `Number: "${text}" is none; type a whole number from 1 to ${String(MOST)}.` }
}
const exercises = computed(() => [
  ...Object.entries(data.value?.levels ?? {}).map(([level, words]) => ({
    prefix: `case ${level}-`,
    address: `/practice/case/${level}-`,
    words: `Level ${level}: ${words}`,
    drill: false,
  })),
  ...Object.entries(data.value?.drills ?? {}).map(([kind, words]) => ({
    prefix: `${kind} `,
    address: `/practice/drill/${kind}/`,
    words,
    drill: true,
  })),
])
const right = (prefix: string) =>
  new Set(
    (attempts.value?.attempts ?? [])
      .filter((item) => item.right && item.name.startsWith(prefix))
      .map((item) => item.name),
  ).size
const PARTS = [
  {
    drill: false,
    title: 'Vehicles with something wrong',
    text: 'Find it, mend it, prove it. Minutes and parts count.',
  },
  { drill: true, title: 'Drills', text: 'One question on one vehicle, worked through with its numbers.' },
]
</script>

<template>
  <div class="practice">
    <AppBar where="Practice" :night="night" @night="$emit('night')" />
    <main>
      <AnswerState
        :pending="isPending"
        :trouble="error ? whyOf(error, 'The server does not answer; try again in a moment.') : ''"
        doing="Fetching…"
      />
      <label v-if="!me" class="who"
        >Your initials, for what you have done
        <input v-model="initials" type="text" maxlength="12" autocomplete="off" />
      </label>
      <section v-for="part in PARTS" :key="part.title" class="panel" :aria-label="part.title">
        <h2>{{ part.title }}</h2>
        <p class="muted">{{ part.text }}</p>
        <form
          v-for="item in exercises.filter((one) => one.drill === part.drill)"
          :key="item.prefix"
          class="row"
          @submit.prevent="begin(item.prefix, item.address)"
        >
          <span class="words">{{ item.words }}</span>
          <span class="muted count">{{ right(item.prefix) ? `${right(item.prefix)} solved` : '' }}</span>
          <label class="narrow"
            >number
            <input
              type="text"
              inputmode="numeric"
              :value="numberOf(item.prefix)"
              :aria-label="`Number, ${item.words}`"
              maxlength="7"
              @input="typed(item.prefix, ($event.target as HTMLInputElement).value)"
          /></label>
          <button type="submit" class="go" :data-begin="item.prefix.trim()">Begin</button>
          <p v-if="trouble.prefix === item.prefix" class="stop" role="alert">■ {{ trouble.words }}</p>
        </form>
      </section>
      <SetPanel />
      <AttemptList :attempts="attempts?.attempts ?? []" :by="by" />
      <p class="duty muted">
        Made-up vehicles. A real one is for a competent person; local code and the makers' instructions rule.
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px;
  padding: 12px 24px;
}
.who,
.duty,
main > :deep(.state) {
  grid-column: 1 / -1;
}
.panel {
  padding: 10px 14px;
}
h2 {
  font-size: var(--head);
}
.row {
  display: grid;
  grid-template-columns: 1fr auto auto auto;
  gap: 4px 12px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--hair);
}
.row p {
  grid-column: 1 / -1;
}
input {
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 8px;
  min-height: 32px;
  width: 84px;
  font: inherit;
  color: inherit;
}
.go {
  border: 0;
  border-radius: 3px;
  background: var(--copper);
  color: var(--panel);
  font-weight: 600;
  padding: 0 16px;
  min-height: 34px;
  cursor: pointer;
}
@media (max-width: 1100px) {
  main {
    grid-template-columns: minmax(0, 1fr);
    padding: 10px;
  }
}
@media (max-width: 700px) {
  .row {
    grid-template-columns: 1fr auto;
  }
  .words {
    grid-column: 1 / -1;
  }
  .count {
    display: none;
  }
  input,
  .go {
    min-height: 44px;
  }
}
</style>
