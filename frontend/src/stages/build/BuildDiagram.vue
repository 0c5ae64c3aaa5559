<script setup lang="ts">
/** The wiring diagram of the design as it stands, and on paper. */
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import WiringDiagram from '../../charts/diagram/WiringDiagram.vue'
import { useJob } from '../../job/store'
import AnswerState from '../../ui/AnswerState.vue'

defineEmits<{ pick: [place: string] }>()
const job = useJob()
const { data, pending, trouble } = useDerived('diagram', (body, signal) =>
  answered(client.POST('/api/build/diagram', { body, signal })),
)
</script>

<template>
  <section class="panel diagram-page" aria-label="Wiring diagram">
    <AnswerState :pending="pending" :trouble="trouble" doing="Drawing it…" />
    <WiringDiagram v-if="data" :drawing="data" @pick="$emit('pick', $event)">
      <span class="papers">
        <span class="muted">press a piece to open it · on paper:</span>
        <a :href="`/api/jobs/${job.id}/diagram-a4.pdf`" target="_blank" rel="noopener" data-paper="a4">A4</a>
        <a :href="`/api/jobs/${job.id}/diagram-a3.pdf`" target="_blank" rel="noopener" data-paper="a3">A3</a>
        <a :href="`/api/jobs/${job.id}/schematic.svg`" target="_blank" rel="noopener" data-paper="svg">SVG</a>
      </span>
    </WiringDiagram>
  </section>
</template>

<style scoped>
.diagram-page {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  overflow: hidden;
}
.papers {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-left: auto;
  align-items: center;
}
[data-paper] {
  display: inline-block;
  min-width: 28px;
  text-align: center;
}
</style>
