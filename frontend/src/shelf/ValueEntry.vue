<script setup lang="ts">
/** A value of a menu line: kept to the letter ("0.0" on its way to "0.05") while it means what is stored. */
import InputText from '../ui/prime/inputtext'
import { computed, ref } from 'vue'
import { valueFrom, valueText } from './menuLines'

const value = defineModel<unknown>({ required: true })
const typed = ref<string | null>(null)
const text = computed(() =>
  typed.value !== null && valueFrom(typed.value) === (value.value ?? null) ? typed.value : valueText(value.value),
)
function take(next: string): void {
  typed.value = next
  value.value = valueFrom(next)
}
</script>

<template>
  <InputText size="small" :model-value="text" @update:model-value="take($event ?? '')" />
</template>
