<script setup lang="ts">
/** What lies near the unit: several may. */
import { computed, useId } from 'vue'
import { useJob } from '../../job/store'
import { fieldOf } from '../../ui/fields'

const job = useJob()
const id = useId()
const field = fieldOf('mount.near')
const choices = (field.choices ?? []).map((item) => ({ key: String(item.value), label: item.label }))
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
  <div role="group" :aria-label="field.label">
    <label v-for="item in choices" :key="item.key" :for="`${id}-${item.key}`">
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
