<script setup lang="ts">
/** Cables and devices: the selected piece beside its size ladder. */
import PieceBench from './PieceBench.vue'
import SizeLadder from './SizeLadder.vue'

const emit = defineEmits<{ pick: [place: string] }>()
</script>

<template>
  <div class="run">
    <PieceBench @pick="emit('pick', $event)" />
    <SizeLadder />
  </div>
</template>

<style scoped>
.run {
  display: grid;
  grid-template-columns: 268px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
}
@media (max-width: 1100px) {
  .run {
    grid-template-columns: minmax(0, 1fr);
  }
  .run :deep(.scroll) {
    max-height: 60vh;
  }
}
</style>
