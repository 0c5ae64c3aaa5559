<script setup lang="ts">
/** Recall: which jobs of the whole yard hold a thing, and what would change with the shelf's unit as it is now. */
import { ref } from 'vue'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import { fieldOf } from '../ui/fields'
import WorkProgress from '../ui/WorkProgress.vue'
import { useYardWork, type YardLine } from '../yard/yardWork'

interface Line extends YardLine {
  where: { path: string; words: string }[]
  changed: { differs: boolean; come: string[]; go: string[] } | null
}
const what = ref('unit')
const key = ref('')
const searched = ref('')
const { found, done, trouble, run, stop } = useYardWork<Line>('/api/recall')
const field = fieldOf('recall.what')

async function search(): Promise<void> {
  if (key.value.trim() === '') return
  searched.value = key.value.trim()
  await run({ what: what.value, key: searched.value })
}
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
      <WorkProgress v-if="done < 1" :done="done" what="Yard" @stop="stop" />
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
