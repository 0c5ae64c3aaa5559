<script setup lang="ts" generic="T extends string">
/** Pages of one bench: a strip of names, walked with the arrow keys. */
import { useTemplateRef } from 'vue'
import { useInSight } from './inSight'

const chosen = defineModel<T>({ required: true })
const props = defineProps<{ pages: { key: T; label: string; mark?: string }[]; name: string }>()
useInSight(useTemplateRef<HTMLElement>('strip'), '[aria-selected=true]', () => chosen.value)
function walk(event: KeyboardEvent): void {
  const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (by === 0) return
  event.preventDefault()
  const at = props.pages.findIndex((page) => page.key === chosen.value)
  const next = props.pages[(at + by + props.pages.length) % props.pages.length]
  if (!next) return
  chosen.value = next.key
  ;(event.currentTarget as HTMLElement).querySelector<HTMLElement>(`[data-page="${next.key}"]`)?.focus()
}
</script>

<template>
  <div ref="strip" class="tabs" role="tablist" :aria-label="name" @keydown="walk">
    <button
      v-for="page in pages"
      :key="page.key"
      type="button"
      role="tab"
      :id="`tab-${page.key}`"
      :data-page="page.key"
      :aria-controls="page.key === chosen ? `page-${page.key}` : undefined"
      :aria-selected="page.key === chosen"
      :tabindex="page.key === chosen ? 0 : -1"
      @click="chosen = page.key"
    >
      {{ page.label
      }}<span v-if="page.mark" class="mark" :class="{ grave: page.mark.startsWith('■') }"> {{ page.mark }}</span>
    </button>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 2px;
  flex: none;
  overflow-x: auto;
}
button {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  padding: 3px 10px 4px;
  font-size: var(--text);
  color: var(--muted);
  cursor: pointer;
  white-space: nowrap;
}
button[aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--copper);
}
.mark {
  margin-left: 4px;
  color: var(--ochre);
  font-size: var(--small);
}
.grave {
  color: var(--madder);
}
@media (max-width: 1100px) {
  button {
    min-height: 44px;
  }
}
</style>
