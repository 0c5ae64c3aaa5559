<script setup lang="ts">
/** Over the level line: which condition, what state it is in, the four figures asked for most. */
import { computed } from 'vue'
import type { ConditionKey } from '../../api/types'
import { useDrive } from '../../job/drive'
import { useJob } from '../../job/store'
import { quantity } from '../../ui/format'
import SelectButton from '../../ui/prime/selectbutton'

const emit = defineEmits<{ working: [name: string] }>()
const folded = defineModel<boolean>('folded', { required: true })
const job = useJob()
const drive = useDrive()
const found = computed(() => job.assessment)
const line = computed(() => job.line)
const conditions = computed(() => (found.value?.conditions ?? []).map((item) => ({ key: item.key, label: item.label })))
const chosen = computed({
  get: () => job.condition,
  set: (key: ConditionKey | null) => {
    if (key !== null) job.condition = key
  },
})
const state = computed(() => {
  if (line.value === null) return ''
  if (job.moment !== null)
    return job.moment.label === 'measured' ? 'as it was measured' : `road test: ${job.moment.label}`
  if (job.judged?.charger === null) return 'no unit chosen yet'
  if (line.value.collapsed) return 'collapses at full current'
  if (!line.value.charging) return `${drive.off.value}, nothing flows`
  if (line.value.alternator_limited) return `${drive.source.value} at its limit`
  return line.value.below_minimum ? "below the unit's lowest input" : 'charging at full current'
})
const heads = computed(() => {
  const figures = found.value?.figures ?? {}
  const key = job.condition === 'parked' ? 'idle' : job.condition
  return [
    { label: 'Input', name: `${key}.input_a` },
    { label: 'Output', name: 'output.current_a' },
    {
      label: job.judged?.vehicle.drive === 'converter' ? 'Converter' : 'Alternator',
      name: 'match.alternator_load_percent',
    },
    { label: 'Run', name: 'supply.resistance_mohm' },
  ].flatMap((item) => {
    const figure = figures[item.name]
    return figure ? [{ ...item, text: quantity(figure.value, figure.unit) }] : []
  })
})
</script>

<template>
  <header>
    <h2 :class="{ spare: folded }">Level line</h2>
    <SelectButton
      v-model="chosen"
      :options="conditions"
      option-label="label"
      option-value="key"
      :allow-empty="false"
      size="small"
      aria-label="Operating condition"
    />
    <span class="state" :class="{ stop: line?.collapsed || line?.alternator_limited || line?.below_minimum }">{{
      state
    }}</span>
    <span class="heads">
      <button
        v-for="head in heads"
        :key="head.name"
        type="button"
        class="plain head"
        :data-figure="head.name"
        :title="`Working of ${head.label}`"
        @click="emit('working', head.name)"
      >
        {{ head.label }} <b>{{ head.text }}</b>
      </button>
    </span>
    <button
      type="button"
      class="link fold"
      :aria-expanded="!folded"
      title="Fold or unfold (l)"
      @click="folded = !folded"
    >
      {{ folded ? 'Unfold' : 'Fold' }}
    </button>
  </header>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 12px;
  flex-wrap: wrap;
  min-height: 30px;
}
.state {
  color: var(--muted);
  font-size: var(--text);
}
.state.stop {
  color: var(--madder);
  font-weight: 600;
}
.heads {
  margin-left: auto;
  display: flex;
  gap: 16px;
  font-size: var(--text);
  color: var(--muted);
}
.head {
  color: inherit;
  border-bottom: 1px dotted var(--edge);
}
.head b {
  color: var(--ink);
  font-weight: 600;
}
.fold {
  font-weight: 500;
}
@media (max-width: 700px) {
  .spare {
    display: none;
  }
  header {
    gap: 2px 10px;
  }
  .state {
    width: 100%;
    order: 8;
  }
  .fold {
    margin-left: auto;
  }
  .heads {
    margin-left: 0;
    width: 100%;
    order: 9;
    justify-content: space-between;
    gap: 4px 8px;
  }
  .head b {
    display: block;
  }
}
</style>
