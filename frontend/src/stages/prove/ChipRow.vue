<script setup lang="ts">
/** Words of which several may be chosen. */
defineProps<{ label: string; chips: readonly { key: string; label: string }[] }>()
const chosen = defineModel<string[]>({ required: true })
function turn(key: string): void {
  chosen.value = chosen.value.includes(key) ? chosen.value.filter((item) => item !== key) : [...chosen.value, key]
}
</script>

<template>
  <div role="group" :aria-label="label">
    <p class="muted">{{ label }}</p>
    <button
      v-for="chip in chips"
      :key="chip.key"
      type="button"
      :aria-pressed="chosen.includes(chip.key)"
      :data-chip="chip.key"
      @click="turn(chip.key)"
    >
      {{ chip.label }}
    </button>
  </div>
</template>

<style scoped>
div {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
}
p {
  width: 100%;
  font-size: var(--text);
}
button {
  border: 1px solid var(--edge);
  border-radius: 14px;
  background: var(--field);
  padding: 3px 11px;
  min-height: 28px;
  font-size: var(--text);
  cursor: pointer;
}
[aria-pressed='true'] {
  border-color: var(--copper);
  background: var(--copper-wash);
  font-weight: 600;
}
@media (max-width: 700px) {
  button {
    min-height: 44px;
    border-radius: 22px;
    padding: 3px 14px;
  }
}
</style>
