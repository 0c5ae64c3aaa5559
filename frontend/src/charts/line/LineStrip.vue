<script setup lang="ts">
/** The level line folded: its four volts in a row. */
import { computed } from 'vue'
import { useJob } from '../../job/store'
import { quantity } from '../../ui/format'

const job = useJob()
const line = computed(() => job.line)
const strip = computed(() => {
  const now = line.value
  if (now === null) return []
  const post = now.supply.find((item) => item.place === 'start_battery')?.exit_v ?? now.source_v
  return [
    { key: 'post', label: 'start battery', volts: post, side: 'copper' },
    { key: 'input', label: 'input', volts: now.input_v, side: 'copper' },
    { key: 'output', label: 'output', volts: now.output_v, side: 'teal' },
    { key: 'auxiliary', label: 'auxiliary', volts: now.auxiliary_v, side: 'teal' },
  ]
})
</script>

<template>
  <p class="strip" data-strip>
    <template v-for="(item, at) in strip" :key="item.key">
      <span v-if="at > 0" aria-hidden="true" class="muted">→</span>
      <span :class="item.side"
        >{{ item.label }} <b>{{ quantity(item.volts, 'V') }}</b></span
      >
    </template>
  </p>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 1px 0 5px;
}
.strip .copper {
  color: var(--copper);
}
.strip .teal {
  color: var(--teal);
}
</style>
