<script setup lang="ts">
/** The bar of a job: where one is, its stages, undo, night, keys. */
import Button from '../ui/prime/button'
import { computed } from 'vue'
import type { Stage } from '../app/router'
import SaveMark from './SaveMark.vue'
import StageLinks from './StageLinks.vue'
import { useJob } from './store'

defineProps<{ stage: Stage; night: boolean }>()
const emit = defineEmits<{ night: []; help: [] }>()
const job = useJob()
const titleFault = computed(() => job.errors.get('title')?.message ?? '')
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="brand">Olvask</RouterLink>
    <h1 class="visually-hidden">{{ job.heading.title || 'A job' }}</h1>
    <nav class="crumb" aria-label="Where">
      <span class="up"><RouterLink to="/">Yard</RouterLink> /</span>
      <input
        class="title"
        :value="job.heading.title"
        aria-label="Title of the job"
        :class="{ bad: titleFault }"
        :aria-invalid="titleFault !== ''"
        :title="titleFault"
        @input="job.rename({ title: ($event.target as HTMLInputElement).value })"
      />
      <span class="code">{{ job.heading.code }}</span>
      <span v-if="titleFault" class="stop fault" role="alert">{{ titleFault }}</span>
    </nav>
    <StageLinks :stage="stage" />
    <SaveMark />
    <span class="tools">
      <Button
        icon="pi pi-undo"
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        size="small"
        variant="text"
        severity="secondary"
        :disabled="job.past.length === 0"
        @click="job.undo()"
      />
      <Button
        icon="pi pi-undo"
        class="redo"
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        size="small"
        variant="text"
        severity="secondary"
        :disabled="job.future.length === 0"
        @click="job.redo()"
      />
      <Button
        :icon="night ? 'pi pi-sun' : 'pi pi-moon'"
        :aria-label="night ? 'Day' : 'Night'"
        title="Day or night (n)"
        size="small"
        variant="text"
        severity="secondary"
        @click="emit('night')"
      />
      <Button
        label="?"
        class="help"
        aria-label="Keys"
        title="Keys (?)"
        size="small"
        variant="outlined"
        severity="secondary"
        @click="emit('help')"
      />
    </span>
  </header>
</template>

<style scoped>
.title.bad {
  border-bottom: 2px solid var(--madder);
}
.fault {
  font-size: var(--text);
}
.bar {
  display: flex;
  align-items: center;
  gap: 14px;
  height: 46px;
  flex: none;
  padding: 0 20px;
  border-bottom: 1px solid var(--hair);
}
.brand {
  color: var(--copper);
  font-size: var(--title);
  font-weight: 600;
  text-decoration: none;
  flex: none;
}
/* Where the bar has no room for all of it, the title gives way first. */
.crumb {
  display: flex;
  align-items: baseline;
  gap: 5px;
  min-width: 0;
  font-size: var(--lead);
  color: var(--muted);
  white-space: nowrap;
}
.crumb a {
  color: inherit;
}
.title {
  font-weight: 600;
  color: var(--ink);
  background: none;
  border: 1px solid transparent;
  border-radius: 3px;
  padding: 2px 4px;
  field-sizing: content;
  min-width: 5ch;
  max-width: 26ch;
  flex: 0 1 auto;
  text-overflow: ellipsis;
}
.title:hover,
.title:focus {
  border-color: var(--edge);
  background: var(--field);
}
.tools {
  display: flex;
  align-items: center;
  gap: 1px;
}
.redo :deep(.pi) {
  transform: scaleX(-1);
}
@media (min-width: 1181px) and (max-width: 1250px) {
  .code {
    display: none; /* its room is the title's, which says more */
  }
}
@media (max-width: 1180px) {
  .bar {
    flex-wrap: wrap;
    height: auto;
    padding: 6px 12px;
    gap: 6px 12px;
  }
  .crumb {
    flex: 1;
    min-width: 0;
    overflow: hidden;
  }
  .title {
    max-width: 17ch;
  }
}
@media (max-width: 700px) {
  .brand {
    min-height: 44px;
    align-content: center;
  }
  .bar {
    gap: 0 8px;
    padding: 2px 8px 4px;
  }
  .up,
  .code,
  .help {
    display: none; /* the name leads to the yard, too; the number stands there; a phone has no keys */
  }
  .title {
    max-width: 100%;
    min-height: 44px;
  }
}
</style>
