<script setup lang="ts">
/** What lies near the unit: several may. */
import { computed, useId } from 'vue'
import { useJob } from '../../job/store'

const job = useJob()
const id = useId()
const NEAR = [
  { key: 'fuel', label: 'fuel or gas' },
  { key: 'exhaust', label: 'exhaust or another hot thing' },
  { key: 'airbag', label: 'an airbag or belt tensioner' },
  { key: 'plastic', label: 'plastic or cloth' },
  { key: 'moving', label: 'moving parts' },
  { key: 'water', label: 'splashing water' },
] as const
const near = computed<readonly string[]>(() => job.design?.mount?.near ?? [])
function turn(key: string): void {
  const now = near.value.includes(key) ? near.value.filter((item) => item !== key) : [...near.value, key]
  job.change([
    { path: 'mount.near', value: now },
    { path: 'mount.near_asked', value: true },
  ])
}
</script>

<template>
  <div role="group" aria-label="Within half a metre of it">
    <label v-for="item in NEAR" :key="item.key" :for="`${id}-${item.key}`">
      <input :id="`${id}-${item.key}`" type="checkbox" :checked="near.includes(item.key)" @change="turn(item.key)" />
      {{ item.label }}
    </label>
  </div>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
}
input {
  width: 20px;
  height: 20px;
  accent-color: var(--copper);
}
@media (max-width: 700px) {
  label {
    min-height: 44px;
  }
}
</style>
