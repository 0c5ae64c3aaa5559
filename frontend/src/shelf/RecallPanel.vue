<script setup lang="ts">
/** Recall: which jobs of the whole yard hold a thing, and what would change with the shelf's unit as it is now. */
import { ref } from 'vue'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import { fieldOf } from '../ui/fields'
import JobLines from '../yard/JobLines.vue'
import { useYardWork, type YardLine } from '../yard/yardWork'
import { useHalfTyped } from '../ui/halfTyped'

interface Line extends YardLine {
  where: { path: string; words: string }[]
  changed: { differs: boolean; come: string[]; go: string[] } | null
}
const what = ref('unit')
const key = useHalfTyped('recall', '')
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
    <JobLines :found="found" :done="done" :trouble="trouble" @ask="search" @stop="stop">
      <template #ask>
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
        <Button
          type="submit"
          label="Search the yard"
          size="small"
          severity="secondary"
          variant="outlined"
          data-recall
        />
      </template>
      <template #line="{ line }">
        <span class="muted" data-recalled> · {{ line.where.map((item) => item.words).join('; ') }}</span>
        <template v-if="line.changed?.differs">
          <span class="caution"> ▲ the shelf's has changed since</span>
          <span v-if="line.changed.come.length" class="stop"> comes: {{ line.changed.come.join('; ') }}</span>
          <span v-if="line.changed.go.length" class="good"> goes: {{ line.changed.go.join('; ') }}</span>
        </template>
      </template>
      <template #nothing>
        <p v-if="searched" class="muted" role="status">No job holds “{{ searched }}”.</p>
      </template>
    </JobLines>
  </section>
</template>

<style scoped>
.panel {
  padding: 12px 14px;
}
</style>
