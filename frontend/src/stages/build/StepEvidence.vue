<script setup lang="ts">
/** Photographs of a step, taken on the spot, and the way to skip it. */
import { computed, ref } from 'vue'
import type { StepState } from '../../api/types'
import { small } from './photograph'

const props = defineProps<{ state: StepState | undefined; jobId: number; wanted: boolean; skipping: boolean }>()
const emit = defineEmits<{ photo: [picture: Promise<string>]; skip: [] }>()
const kept = computed(() => props.state?.entries.filter((entry) => entry.kind === 'photo') ?? [])
const told = ref('')
const input = ref<HTMLInputElement | null>(null)
async function taken(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  const picture = small(file)
  emit('photo', picture) // at once: it belongs to the step that is open now
  try {
    await picture
    told.value = ''
  } catch {
    told.value = 'That file is no picture this device can read; take it as JPEG.'
  }
}
</script>

<template>
  <div class="evidence">
    <ul v-if="kept.length" class="thumbs" aria-label="Photographs of this step">
      <li v-for="item in kept" :key="item.id">
        <a
          v-if="item.photo"
          :href="`/api/jobs/${jobId}/build/photographs/${item.photo}.jpg`"
          target="_blank"
          rel="noopener"
          ><img
            :src="`/api/jobs/${jobId}/build/thumbnails/${item.photo}.jpg`"
            :alt="`Photograph by ${item.by || 'somebody'}`"
            width="72"
            height="54"
        /></a>
        <span v-else class="muted">kept here</span>
      </li>
    </ul>
    <div class="keys">
      <button type="button" class="plain" :class="{ wanted }" @click="input?.click()">Photograph</button>
      <button type="button" class="plain" :aria-expanded="skipping" @click="$emit('skip')">Skip, why…</button>
    </div>
    <input ref="input" type="file" accept="image/*" capture="environment" hidden @change="taken" />
    <p v-if="told" class="stop" role="alert">■ {{ told }}</p>
  </div>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
button {
  min-height: 48px;
  text-align: center;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--field);
}
button.wanted {
  border-color: var(--copper);
  font-weight: 600;
}
.thumbs {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 0;
  margin: 0 0 8px;
}
img {
  object-fit: cover;
  border: 1px solid var(--hair);
  border-radius: 2px;
  display: block;
}
</style>
