<script setup lang="ts">
/** One block of the day: what the vehicle does, how long, with what; moved, repeated or taken out. */
import { computed, ref, watch } from 'vue'
import { entered } from '../ui/locale'
import { readEntry } from '../ui/number'
import { ENGINES, UNITS, type Block, type Engine, type Unit } from './blocks'

const props = defineProps<{ block: Block }>()
const emit = defineEmits<{ set: [part: Partial<Block>]; move: [by: number]; repeat: []; remove: [] }>()
const refused = ref<string | null>(null) // what was typed and is no amount for certain; it stays
const again = computed(() => props.block.kind === 'repeat')
const amount = computed({
  get: () => refused.value ?? entered(props.block.amount),
  set: (typed: string) => {
    const value = readEntry(typed, again.value ? '' : props.block.unit)
    const good = typeof value === 'number' && value > 0 && (!again.value || Number.isInteger(value))
    refused.value = good ? null : typed
    if (good) emit('set', { amount: value })
  },
})
watch(
  () => props.block,
  () => (refused.value = null),
)
</script>

<template>
  <div class="editor">
    <template v-if="block.kind === 'stretch'">
      <select
        :value="block.engine"
        aria-label="What the vehicle does"
        @change="emit('set', { engine: ($event.target as HTMLSelectElement).value as Engine })"
      >
        <option v-for="name in ENGINES" :key="name">{{ name }}</option>
      </select>
      <input v-model.lazy="amount" inputmode="decimal" aria-label="How long" :aria-invalid="refused !== null" /><select
        :value="block.unit"
        aria-label="Unit of time"
        @change="emit('set', { unit: ($event.target as HTMLSelectElement).value as Unit })"
      >
        <option v-for="name in Object.keys(UNITS)" :key="name">{{ name }}</option>
      </select>
      <input
        class="more"
        :value="block.more"
        placeholder="load 4 A, sun 80 W…"
        aria-label="Loads, sun, key, plug, air"
        @change="emit('set', { more: ($event.target as HTMLInputElement).value.trim() })"
      />
    </template>
    <template v-else-if="block.kind === 'repeat'"
      ><span>repeat</span
      ><input v-model.lazy="amount" inputmode="numeric" aria-label="How often" :aria-invalid="refused !== null" /><span
        >times</span
      ></template
    >
    <span v-else class="muted">{{ block.text }}</span>
    <span v-if="refused !== null" class="stop" role="alert"
      >■ {{ again ? 'Give how often as a whole number, such as 5.' : `Give how long, such as 90 or 1 h 30 min.` }}</span
    >
    <button type="button" class="tiny" title="Earlier (Alt ←)" aria-label="Earlier" @click="emit('move', -1)">◀</button
    ><button type="button" class="tiny" title="Later (Alt →)" aria-label="Later" @click="emit('move', 1)">▶</button
    ><button type="button" class="tiny" aria-label="Repeat this block" @click="emit('repeat')">2×</button
    ><button type="button" class="tiny" title="Delete" aria-label="Take this block out" @click="emit('remove')">
      ✕
    </button>
  </div>
</template>

<style scoped>
.editor {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
  align-items: center;
  font-size: var(--text);
}
.editor input,
.editor select {
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
  padding: 1px 4px;
  font-size: var(--text);
  height: 26px;
}
.editor input {
  width: 46px;
  text-align: right;
}
.editor .more {
  flex: 1 1 100px;
  text-align: left;
  min-width: 90px;
}
.tiny {
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--panel);
  padding: 1px 6px;
  font-size: var(--text);
  cursor: pointer;
  min-height: 24px;
}
@media (max-width: 1100px) {
  .tiny {
    min-height: 44px;
    min-width: 38px;
  }
  .editor input,
  .editor select {
    height: 38px;
  }
}
</style>
