<script setup lang="ts">
/** Sets of exercises that a teacher fixed by their names, and what everybody has done of them. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import { emptying } from '../ui/halfTyped'
import { once } from '../ui/once'
import { owns } from '../api/signedIn'
import { addressOf } from './names'

const queries = useQueryClient()
const { data } = useQuery({
  queryKey: ['practice', 'sets'],
  queryFn: () => answered(client.GET('/api/practice/sets')),
})
const name = useLocalStorage('olvask.practice.set.name', '')
const items = useLocalStorage('olvask.practice.set.items', '')
const trouble = ref('')
const [fix] = once(async () => {
  const names = items.value
    .split(/[,;\n]/)
    .map((item) => item.trim().replace(/\s+/g, ' '))
    .filter(Boolean)
  const taken = [emptying(name), emptying(items)]
  try {
    await answered(client.POST('/api/practice/sets', { body: { name: name.value, items: names } }))
    for (const empty of taken) empty()
    trouble.value = ''
    await queries.invalidateQueries({ queryKey: ['practice', 'sets'] })
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; what you typed is kept.')
  }
})
async function drop(id: number): Promise<void> {
  try {
    await answered(client.DELETE('/api/practice/sets/{set_id}', { params: { path: { set_id: id } } }))
    trouble.value = ''
    await queries.invalidateQueries({ queryKey: ['practice', 'sets'] })
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; the set is still there.')
  }
}
</script>

<template>
  <section class="panel" aria-label="Sets">
    <h2>Sets</h2>
    <p v-if="!data?.sets.length" class="muted">
      A set is the same exercises for everybody, by their numbers. None is fixed yet.
    </p>
    <article v-for="set in data?.sets ?? []" :key="set.id" :data-set="set.name">
      <b>{{ set.name }}</b>
      <span v-for="item in set.items" :key="item" class="item"
        ><RouterLink :to="addressOf(item)">{{ item }}</RouterLink></span
      >
      <template v-if="owns">
        <a :href="`/api/practice/sets/${set.id}/results.csv`" data-results>everybody's results, CSV</a>
        <button type="button" class="link" @click="drop(set.id)">take out</button>
      </template>
    </article>
    <form v-if="owns" @submit.prevent="fix">
      <label>Name of the set <input v-model="name" type="text" maxlength="80" required /></label>
      <label
        >Exercises, such as case 3-17, size 4
        <input v-model="items" type="text" required data-set-items />
      </label>
      <button type="submit" class="link">Fix this set</button>
    </form>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
  </section>
</template>

<style scoped>
.panel {
  padding: 10px 14px;
}
article {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 4px 0;
  border-top: 1px solid var(--hair);
  font-size: var(--text);
  line-height: 24px;
}
form {
  display: grid;
  gap: 6px;
  margin-top: 8px;
  font-size: var(--text);
}
input {
  display: block;
  width: 100%;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 4px 8px;
  min-height: 32px;
  font: inherit;
  color: inherit;
}
.link {
  min-height: 28px;
}
</style>
