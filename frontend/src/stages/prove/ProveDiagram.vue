<script setup lang="ts">
/** The wiring diagram beside a test, the conductors it looks at drawn strong. */
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import WiringDiagram from '../../charts/diagram/WiringDiagram.vue'
import AnswerState from '../../ui/AnswerState.vue'

defineProps<{ conductors: readonly string[] }>()
const { data, pending, trouble } = useDerived('diagram', (body, signal) =>
  answered(client.POST('/api/build/diagram', { body, signal })),
)
</script>

<template>
  <div class="drawn">
    <WiringDiagram v-if="data" :drawing="data" :strong="conductors" />
    <AnswerState :pending="pending" :trouble="trouble" doing="Drawing it…" />
  </div>
</template>

<style scoped>
.drawn {
  display: grid;
  height: 320px;
  overflow: hidden;
}
</style>
