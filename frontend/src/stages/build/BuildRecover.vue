<script setup lang="ts">
/** Getting a unit or a pack back: the same steps, one at a time, and what is lost by it. */
import { computed, ref } from 'vue'
import type { Procedure } from '../../api/types'
import BuildSteps from './BuildSteps.vue'

const props = defineProps<{ recoveries: readonly Procedure[] }>()
const title = ref('')
const open = computed(() => props.recoveries.find((item) => item.title === title.value) ?? props.recoveries[0])
</script>

<template>
  <div class="recover">
    <div class="ways" role="group" aria-label="Ways back">
      <button
        v-for="item in recoveries"
        :key="item.title"
        type="button"
        class="plain"
        :aria-pressed="item.title === open?.title"
        @click="title = item.title"
      >
        {{ item.title }}
      </button>
    </div>
    <BuildSteps v-if="open" :key="open.title" :procedure="open" />
  </div>
</template>

<style scoped>
.recover {
  display: grid;
  gap: 8px;
  align-content: start;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 4px 12px;
  min-height: 32px;
}
button[aria-pressed='true'] {
  background: var(--copper-wash);
  border-color: var(--copper);
  font-weight: 600;
}
@media (max-width: 700px) {
  button {
    min-height: 44px;
    width: 100%;
    text-align: left;
  }
}
</style>
