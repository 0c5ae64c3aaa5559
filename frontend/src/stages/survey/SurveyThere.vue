<script setup lang="ts">
/** What is fitted already, the panel, a cable worth keeping, and the room for the unit. */
import { computed } from 'vue'
import ChoiceField from '../../ui/ChoiceField.vue'
import type { Column } from '../../ui/CellField.vue'
import ListField from '../../ui/ListField.vue'
import NumberField from '../../ui/NumberField.vue'
import TickField from '../../ui/TickField.vue'
import { useCatalogue } from '../../job/catalogue'
import { useJob } from '../../job/store'
import { sizeChoices } from '../../ui/format'
import { tied } from '../../ui/tied'

const job = useJob()
const { data: catalogue } = useCatalogue()
const THERE: Column[] = [
  { key: 'kind', kind: 'choice', width: 'minmax(0, 2.8fr)' },
  { key: 'name', kind: 'text', width: 'minmax(0, 1.5fr)' },
  { key: 'charge_a', kind: 'number' },
  { key: 'profile', kind: 'choice', width: 'minmax(72px, 1.2fr)' },
  { key: 'cut', kind: 'tick', width: 'minmax(40px, 0.7fr)' },
]
const sizes = computed(() => sizeChoices(catalogue.value?.sizes ?? []))
const inherited = computed(() => job.design?.inherited !== null && job.design?.inherited !== undefined)
const verdict = computed(() => job.assessment?.findings.find((item) => item.id === 'run.inherited'))
const panel = computed(() => job.design?.solar?.panel_w !== null && job.design?.solar?.panel_w !== undefined)
</script>

<template>
  <div class="there">
    <section class="panel" aria-label="Already there">
      <div class="bench-head">
        <h2>Already there</h2>
        <span class="aside">links, chargers, feeds</span>
      </div>
      <ListField
        path="existing"
        what="thing"
        :columns="THERE"
        :blank="{ kind: 'link', name: '', charge_a: null, profile: null, cut: false }"
        empty="Note any relay or panel that links the batteries, and everything else that charges the auxiliary battery."
      />
    </section>
    <section class="panel" aria-label="Solar and inherited cable">
      <div class="bench-head"><h2>Solar</h2></div>
      <NumberField path="solar.panel_w" origin="datasheet" fallback="none" />
      <template v-if="panel">
        <ChoiceField path="solar.into" />
        <NumberField path="solar.sun_h" />
        <NumberField path="solar.share_driving" />
        <ChoiceField v-if="job.design?.solar?.into === 'controller'" path="solar.profile" />
      </template>
      <h3>Inherited cable</h3>
      <template v-if="inherited">
        <ChoiceField path="inherited.size" :options="sizes" />
        <NumberField path="inherited.length_m" />
        <ChoiceField path="inherited.metal" />
        <NumberField path="inherited.shared_a" />
        <TickField path="inherited.sound" />
        <p v-if="verdict" class="small">
          <b>{{ tied(verdict.title) }}.</b> <span class="muted">{{ tied(verdict.text) }}</span>
        </p>
        <p v-else class="small muted">Choose a unit to have it judged.</p>
        <button type="button" class="link small" @click="job.change([{ path: 'inherited', value: null }])">
          There is none after all
        </button>
      </template>
      <button
        v-else
        type="button"
        class="link"
        @click="
          job.change([
            { path: 'inherited', value: { size: '6 mm²', length_m: 4, metal: 'copper', sound: true, shared_a: 0 } },
          ])
        "
      >
        Note a cable that may stay
      </button>
    </section>
    <section class="panel" aria-label="Space for the unit">
      <div class="bench-head"><h2>Room for the unit</h2></div>
      <ChoiceField path="mount.place" />
      <NumberField path="mount.ambient_c" origin="measured" />
      <NumberField path="mount.width_mm" fallback="open" />
      <NumberField path="mount.height_mm" fallback="open" />
      <NumberField path="mount.depth_mm" fallback="open" />
      <NumberField path="mount.weight_max_kg" fallback="open" />
      <p class="small muted">Free air all round is added from the unit's own sheet. Fins stand upright.</p>
    </section>
  </div>
</template>

<style scoped>
.there {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr) minmax(0, 0.9fr);
  gap: 8px;
}
.small {
  font-size: var(--text);
  line-height: 1.35;
  margin-top: 4px;
}
@media (max-width: 1100px) {
  .there {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
