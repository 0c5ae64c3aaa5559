<script setup lang="ts">
/** Every job judged anew by this Olvask's rules, or driven within tolerances: those that are worth a look. */
import { ref } from 'vue'
import Button from '../ui/prime/button'
import Select from '../ui/prime/select'
import { fieldOf } from '../ui/fields'
import JobLines from './JobLines.vue'
import { useYardWork, type YardLine } from './yardWork'

interface Line extends YardLine {
  come: string[]
  go: string[]
  shares: { start: number; hunt: number; drain: number; any: number } | null
}
const work = ref<'judge' | 'tolerance'>('judge')
const asked = ref('')
const { found, done, trouble, run, stop } = useYardWork<Line>('/api/yard/work')
const field = fieldOf('yard_work.work')
const NOTHING = {
  judge: 'Every job is judged as when it was saved.',
  tolerance: 'No job is at fault in any of a hundred vehicles that differ within tolerances.',
}

const percent = (share: number): string => `${Math.round(share * 100)} %`

async function start(): Promise<void> {
  asked.value = ''
  const mine = work.value
  await run({ work: mine })
  asked.value = trouble.value === '' ? mine : ''
}
</script>

<template>
  <JobLines :found="found" :done="done" :trouble="trouble" @ask="start" @stop="stop">
    <template #ask>
      <Select
        v-model="work"
        :options="field.choices"
        option-label="label"
        option-value="value"
        size="small"
        :aria-label="field.label"
      />
      <Button type="submit" label="Begin" size="small" severity="secondary" variant="outlined" data-yard-work />
    </template>
    <template #line="{ line }">
      <span v-if="line.come.length" class="caution"> ▲ new since saved: {{ line.come.join('; ') }}</span>
      <span v-if="line.go.length" class="good"> gone since saved: {{ line.go.join('; ') }}</span>
      <span v-if="line.shares" class="caution">
        ▲ {{ percent(line.shares.any) }} at fault: {{ percent(line.shares.start) }} do not start,
        {{ percent(line.shares.hunt) }} hunt, {{ percent(line.shares.drain) }} drain the start battery</span
      >
    </template>
    <template #nothing>
      <p v-if="asked === 'judge' || asked === 'tolerance'" class="muted" role="status">{{ NOTHING[asked] }}</p>
    </template>
  </JobLines>
</template>
