<script setup lang="ts">
/** When the unit may charge: the ways, the thresholds on their ladder, what to key in, and what follows. */
import { computed } from 'vue'
import { useJob } from '../../job/store'
import NextMinutes from '../../trip/NextMinutes.vue'
import NumberField from '../../ui/NumberField.vue'
import KeyIn from './KeyIn.vue'
import VoltageLadder from './VoltageLadder.vue'
import WaysToStart from './WaysToStart.vue'

const job = useJob()
const unit = computed(() => job.design?.charger ?? null)
</script>

<template>
  <div class="wake">
    <WaysToStart />
    <section class="panel volts" aria-label="Voltage ladder">
      <div class="bench-head">
        <h2>Voltage ladder</h2>
        <span class="aside margin" title="Volts at the charger; loaded means at full current"
          >V at the charger, margin <NumberField bare path="choices.margin_v"
        /></span>
      </div>
      <div class="hold">
        <VoltageLadder v-if="unit" />
        <p v-else class="muted">Choose a unit in Match first: its draw decides the loaded volts.</p>
      </div>
    </section>
    <div class="right">
      <KeyIn />
      <NextMinutes />
    </div>
  </div>
</template>

<style scoped>
.wake {
  display: grid;
  grid-template-columns: 192px minmax(0, 1fr) 306px;
  gap: 10px;
  min-height: 0;
}
.volts {
  display: flex;
  flex-direction: column;
}
.hold {
  flex: 1;
  min-height: 250px;
}
.right {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
}
.margin {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  white-space: nowrap;
}
.margin :deep(.field) {
  width: 74px;
}
@media (max-width: 1100px) {
  .wake {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
