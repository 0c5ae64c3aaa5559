<script setup lang="ts">
/** Recall: which jobs of the whole yard hold a thing, and what would change with the shelf's unit as it is now. */
import { onBeforeUnmount, ref } from 'vue'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import { told } from '../api/stream'
import { Refused } from '../api/client'
import { fieldOf } from '../ui/fields'
import WorkProgress from '../ui/WorkProgress.vue'

interface Line {
  done: number
  job: number | null
  title: string
  code: string
  where: { path: string; words: string }[]
  changed: { differs: boolean; come: string[]; go: string[] } | null
  unreadable: boolean
}
const MOST = 200
const what = ref('unit')
const key = ref('')
const found = ref<Line[]>([])
const done = ref(1)
const searched = ref('')
const trouble = ref('')
let stop: AbortController | null = null
const field = fieldOf('recall.what')

async function search(): Promise<void> {
  if (key.value.trim() === '') return
  stop?.abort()
  const mine = new AbortController()
  stop = mine
  found.value = []
  trouble.value = ''
  done.value = 0
  searched.value = key.value.trim()
  try {
    for await (const line of told<Line>('/api/recall', { what: what.value, key: searched.value }, mine.signal)) {
      done.value = line.done
      if (line.job !== null && found.value.length < MOST) found.value = [...found.value, line]
    }
  } catch (error) {
    if (!mine.signal.aborted)
      trouble.value = error instanceof Refused ? error.problem.detail : 'The server does not answer; search again.'
  }
  if (stop === mine) done.value = 1
}
onBeforeUnmount(() => stop?.abort())
</script>

<template>
  <section class="panel" aria-label="Recall">
    <form class="ask" @submit.prevent="search">
      <b>Recall: which jobs hold this?</b>
      <Select
        v-model="what"
        :options="field.choices"
        option-label="label"
        option-value="value"
        size="small"
        :aria-label="field.label"
      />
      <InputText
        v-model="key"
        size="small"
        :aria-label="fieldOf('recall.key').label"
        autocomplete="off"
        data-recall-key
      />
      <Button type="submit" label="Search the yard" size="small" severity="secondary" variant="outlined" data-recall />
      <WorkProgress v-if="done < 1" :done="done" what="Yard" @stop="stop?.abort()" />
    </form>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <ul v-if="found.length">
      <li v-for="line in found" :key="line.job ?? 0" data-recalled>
        <RouterLink :to="`/job/${line.job}/survey`">{{ line.title || `job ${line.job}` }}</RouterLink>
        <span class="muted"> {{ line.code }} · {{ line.where.map((item) => item.words).join('; ') }}</span>
        <span v-if="line.unreadable" class="caution"> ▲ cannot be read</span>
        <template v-if="line.changed?.differs">
          <span class="caution"> ▲ the shelf's has changed since</span>
          <span v-if="line.changed.come.length" class="stop"> comes: {{ line.changed.come.join('; ') }}</span>
          <span v-if="line.changed.go.length" class="good"> goes: {{ line.changed.go.join('; ') }}</span>
        </template>
      </li>
    </ul>
    <p v-else-if="searched && done >= 1 && !trouble" class="muted" role="status">No job holds “{{ searched }}”.</p>
  </section>
</template>

<style scoped>
.panel {
  padding: 12px 14px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  font-size: var(--text);
}
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  font-size: var(--text);
}
li {
  padding: 3px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
