<script setup lang="ts" generic="T">
/** One of a few choices that keeps its place, and its look, until what the page is for stands on the screen. */
import { computed, shallowRef, watch } from 'vue'
import type Select from './prime/select'

const chosen = defineModel<T>({ required: true })
const props = defineProps<{ options: { value: T; label: string }[]; label: string; alive: boolean }>()
const made = shallowRef<typeof Select | null>(null)
watch(
  () => props.alive,
  async (alive) => {
    if (alive) made.value = (await import('./prime/select')).default
  },
  { immediate: true },
)
const standing = computed(() => props.options.find((item) => item.value === chosen.value)?.label)
</script>

<template>
  <component
    :is="made"
    v-if="made"
    v-model="chosen"
    :options="options"
    option-label="label"
    option-value="value"
    size="small"
    :aria-label="label"
  />
  <span v-else class="p-select p-component p-inputfield-sm p-select-sm" aria-hidden="true">
    <span class="p-select-label">{{ standing }}</span><span class="p-select-dropdown"></span>
  </span>
</template>
