<script setup lang="ts">
/** A number outside of the design: what is typed stays, and is a number only for certain; the arrow keys step it. */
import { computed, ref } from 'vue'
import { asTyped } from './number'
import { entered } from './locale'
import InputText from './prime/inputtext'
import { stepped } from './stepped'
import { readIn, standing } from './units'

const props = defineProps<{ unit: string; step?: number; label: string; wrong?: boolean }>()
/** The number in the models' unit, or the text that is none. */
const value = defineModel<number | string | null>({ required: true })
const typed = ref<string | null>(null)
const text = computed(() => {
  const kept = typed.value
  if (kept !== null && (kept.trim() === '' || readIn(kept, props.unit) === value.value)) return kept
  return typeof value.value === 'number' ? entered(standing(value.value, props.unit)) : asTyped(value.value ?? '')
})
function enter(entry: string): void {
  typed.value = entry
  value.value = readIn(entry, props.unit)
}
function nudge(event: KeyboardEvent): void {
  const next = stepped(event, text.value, props.step ?? 0)
  if (next !== null) enter(entered(next))
}
</script>

<template>
  <InputText
    :model-value="text"
    size="small"
    inputmode="decimal"
    autocomplete="off"
    :aria-label="label"
    :invalid="wrong || typeof value === 'string'"
    @input="enter(($event.target as HTMLInputElement).value)"
    @keydown="nudge"
    @blur="typed = null"
  />
</template>
