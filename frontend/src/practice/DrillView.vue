<script setup lang="ts">
/** A drill: one question on one made-up vehicle, judged by what judges designs. */
import { useQuery } from '@tanstack/vue-query'
import { useSessionStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, client, whyOf } from '../api/client'
import type { components } from '../api/schema.gen'
import { me } from '../api/signedIn'
import AppBar from '../app/AppBar.vue'
import { initials } from '../stages/settings/keyed'
import { said } from '../ui/locale'
import { readingOf } from '../ui/reading'
import { unitSaid } from '../ui/units'
import DrillOrder from './DrillOrder.vue'
import LogChart from './LogChart.vue'
import { asking } from '../ui/asking'

defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
type Judged = components['schemas']['Judged']
type Kind = components['schemas']['DrillIn']['kind']
const route = useRoute()
const kind = computed(() => String(route.params.kind))
const number = computed(() => Number(route.params.number))
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['practice-drill', kind.value, number.value]),
  queryFn: () =>
    answered(
      client.GET('/api/practice/drill/{kind}/{number}', {
        params: { path: { kind: kind.value, number: number.value } },
      }),
    ),
  staleTime: Infinity,
  retry: false,
  meta: { said: true },
})
const away = computed(() =>
  error.value ? whyOf(error.value, 'The server does not answer; try again in a moment.') : '',
)
interface Given {
  numbers: string[]
  chosen: string
  order: string[]
}
const EMPTY: Given = { numbers: ['', ''], chosen: '', order: [] }
const given = useSessionStorage<Given>(() => `olvask.drill.${kind.value}.${String(number.value)}`, EMPTY)
const judged = ref<Judged | null>(null)
const trouble = ref('')
watch([kind, number], () => {
  judged.value = null
  trouble.value = ''
})
watch(data, (drill) => {
  if (drill?.ordered && given.value.order.length !== drill.items.length)
    given.value = { ...given.value, order: drill.items.map((item) => item.key) }
})
const USUAL = 13.2 // of the example where a number cannot be read
const asked = asking(() => `${kind.value} ${String(number.value)}`)
async function answer(): Promise<void> {
  trouble.value = ''
  const fields = data.value?.fields ?? []
  const read = fields.map((field, at) => readingOf(given.value.numbers[at] ?? '', field.unit, USUAL))
  for (const [at, value] of read.entries())
    if (typeof value !== 'number') {
      trouble.value = `${fields[at]?.label ?? ''}: ${value.told}`
      return
    }
  const numbers = read.map(Number)
  const counts = asked()
  try {
    const found = await answered(
      client.POST('/api/practice/drill', {
        body: {
          kind: kind.value as Kind,
          number: number.value,
          numbers,
          chosen: fields.length || data.value?.ordered ? '' : given.value.chosen,
          order: data.value?.ordered ? given.value.order : [],
          by: me.value?.name ?? initials.value.trim(),
        },
      }),
    )
    if (counts()) judged.value = found
  } catch (problem) {
    if (counts())
      trouble.value = whyOf(problem, 'The server does not answer; your answer is kept. Try again in a moment.')
  }
}
</script>

<template>
  <div class="drill">
    <AppBar where="Practice" :night="night" @night="$emit('night')" />
    <main>
      <p v-if="away" class="stop" role="alert">
        ■ {{ away }} <button type="button" class="link" @click="refetch()">Try again</button>
      </p>
      <p v-else-if="!data" class="muted" role="status">Preparing the vehicle…</p>
      <form v-else class="panel" @submit.prevent="answer">
        <p class="muted">{{ data.vehicle }} · {{ data.kind.replace('_', ' ') }} {{ data.number }}</p>
        <h2 data-question>{{ said(data.question) }}</h2>
        <ul class="muted">
          <li v-for="fact in data.facts" :key="fact">{{ said(fact) }}</li>
        </ul>
        <LogChart v-if="data.series" :series="data.series" />
        <div v-if="data.fields.length" class="fields">
          <label v-for="(field, at) in data.fields" :key="field.label"
            >{{ field.label }}
            <span
              ><input v-model="given.numbers[at]" type="text" inputmode="decimal" autocomplete="off" />
              {{ unitSaid(field.unit) }}</span
            >
          </label>
        </div>
        <DrillOrder v-else-if="data.ordered" v-model="given.order" :items="data.items" />
        <fieldset v-else>
          <legend class="visually-hidden">Answers</legend>
          <label v-for="item in data.items" :key="item.key" class="choice">
            <input v-model="given.chosen" type="radio" name="answer" :value="item.key" /> {{ said(item.text) }}
          </label>
        </fieldset>
        <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
        <button type="submit" class="go" data-answer>That is my answer</button>
        <section v-if="judged" data-judged aria-live="polite">
          <p class="verdict" :class="judged.right ? 'good' : 'stop'">
            {{ judged.right ? '✓ Right.' : '■ Not so.' }} {{ said(judged.text) }}
          </p>
          <ul v-if="judged.working.length">
            <li v-for="line in judged.working" :key="line">{{ said(line) }}</li>
          </ul>
          <p v-if="!judged.right && (data.fields.length || data.ordered)" class="muted">
            It would be: {{ said(judged.better) }}
          </p>
          <p class="keys">
            <RouterLink :to="`/practice/drill/${kind}/${number + 1}`" data-next>Next one</RouterLink>
            <RouterLink to="/practice">all exercises</RouterLink>
          </p>
        </section>
      </form>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 12px 24px;
  max-width: 860px;
  margin: 0 auto;
}
.panel {
  padding: 14px 18px;
  display: grid;
  gap: 10px;
}
h2 {
  font-size: var(--title);
  line-height: 1.3;
}
ul {
  margin: 0;
  padding-left: 18px;
  font-size: var(--text);
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
}
.choice {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 44px;
  border-top: 1px solid var(--hair);
  font-size: var(--head);
  cursor: pointer;
}
.choice input {
  width: 20px;
  height: 20px;
  accent-color: var(--copper);
  flex: none;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 24px;
}
.fields input {
  border: 2px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  color: inherit;
  font: inherit;
  font-size: var(--title);
  padding: 4px 10px;
  width: 120px;
  min-height: 46px;
}
.fields span {
  display: flex;
  gap: 6px;
  align-items: center;
}
.go {
  border: 0;
  border-radius: 4px;
  background: var(--copper);
  color: var(--panel);
  font: inherit;
  font-weight: 600;
  min-height: 46px;
  cursor: pointer;
}
.verdict {
  font-size: var(--head);
  font-weight: 600;
}
.keys {
  display: flex;
  gap: 20px;
  line-height: 32px;
}
@media (max-width: 700px) {
  main {
    padding: 10px;
  }
}
</style>
