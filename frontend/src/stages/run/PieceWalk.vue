<script setup lang="ts">
/** The piece before and after the one in focus, across both runs: for thumbs, where the line is folded. */
import { computed } from 'vue'
import Button from '../../ui/prime/button'
import { piecesOf } from '../../job/pieces'
import { useJob } from '../../job/store'

const emit = defineEmits<{ pick: [place: string] }>()
const job = useJob()
const places = computed(() => {
  const design = job.design
  return design === null
    ? []
    : (['supply', 'delivery'] as const).flatMap((run) => piecesOf(design, run).map((piece) => piece.id ?? ''))
})
const at = computed(() => places.value.indexOf(job.place))
const before = computed(() => places.value[at.value - 1])
const after = computed(() => places.value[at.value + 1])
function go(place: string | undefined): void {
  if (place !== undefined) emit('pick', place)
}
</script>

<template>
  <span class="walk">
    <Button
      icon="pi pi-chevron-left"
      size="small"
      severity="secondary"
      variant="text"
      aria-label="The piece before"
      :disabled="before === undefined"
      @click="go(before)"
    />
    <Button
      icon="pi pi-chevron-right"
      size="small"
      severity="secondary"
      variant="text"
      aria-label="The piece after"
      :disabled="after === undefined"
      @click="go(after)"
    />
  </span>
</template>

<style scoped>
.walk {
  display: inline-flex;
  gap: 2px;
  margin-left: 6px;
}
</style>
