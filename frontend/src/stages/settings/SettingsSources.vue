<script setup lang="ts">
/** How each other source charges: its lead, its stages, and what of its making matters. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client } from '../../api/client'
import { useJob } from '../../job/store'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import SelectField from '../../ui/SelectField.vue'
import TickField from '../../ui/TickField.vue'

const job = useJob()
const CHARGERS = ['built_in_charger', 'mains_charger', 'portable_charger']
interface Entry {
  label: string
  /** Where its wire, current and chemistry stand. */
  path: string
  solar: boolean
}
const all = computed((): Entry[] => {
  const there = (job.design?.existing ?? [])
    .filter((item) => CHARGERS.includes(item.kind) && item.cut !== true)
    .map((item) => ({
      label: item.name === undefined || item.name === '' ? item.kind.replaceAll('_', ' ') : item.name,
      path: `existing.${item.id ?? ''}`,
      solar: false,
    }))
  const { panel_w, into } = job.design?.solar ?? {}
  const sun = panel_w !== null && panel_w !== undefined && into === 'controller'
  return sun ? [...there, { label: 'solar controller', path: 'solar', solar: true }] : there
})
const picked = ref('')
const open = computed(() => all.value.find((item) => item.path === picked.value) ?? all.value[0])
const at = (name: string) => `${open.value?.path ?? ''}.stages.${name}`
interface OnShelf {
  name: string
  kind: string
  nominal_v: number
  output_a: number
  stages: Record<string, unknown>
}
const { data: shelf } = useQuery({
  queryKey: ['shelf', 'other_chargers', 'few'],
  queryFn: () =>
    answered(client.GET('/api/shelf/{name}', { params: { path: { name: 'other_chargers' }, query: { rows: 200 } } })),
})
/** Chargers of the shelf that could be this one: of its kind, for this battery. */
const fitting = computed(() =>
  (shelf.value?.items ?? [])
    .map((item) => ({ id: item.id, ...(item.document as unknown as OnShelf) }))
    .filter((item) => item.nominal_v === (job.design?.auxiliary?.nominal_v ?? 12))
    .filter((item) => (item.kind === 'solar_controller') === (open.value?.solar ?? false)),
)
const options = computed(() => [
  { value: '', label: 'one of these' },
  ...fitting.value.map((item) => ({ value: item.id, label: `${item.name}, ${String(item.output_a)} A` })),
])
const taken = computed({
  get: () => '',
  set: (id: string) => {
    const item = fitting.value.find((one) => one.id === id)
    const path = open.value?.path
    if (!item || path === undefined) return
    const more = open.value?.solar
      ? []
      : [
          { path: `${path}.charge_a`, value: item.output_a },
          { path: `${path}.name`, value: item.name },
        ]
    job.change([{ path: `${path}.stages`, value: item.stages }, ...more])
  },
})
const equalises = computed(() => job.valueAt(at('equalise')) === true)
</script>

<template>
  <section v-if="open === undefined" class="panel" aria-label="Other sources">
    <div class="bench-head"><h2>Other sources</h2></div>
    <p class="muted">
      Nothing else charges this battery. What is there already, and a panel with its controller, are noted in Survey.
    </p>
  </section>
  <div v-else class="others">
    <section class="panel" aria-label="Other sources">
      <div class="bench-head"><h2>Other sources</h2></div>
      <button
        v-for="item in all"
        :key="item.path"
        type="button"
        class="plain pick"
        :aria-pressed="item.path === open.path"
        @click="picked = item.path"
      >
        {{ item.label }}
      </button>
      <p class="muted">Empty entries are the usual of what it is set for.</p>
    </section>
    <section :key="open.path" class="panel" :aria-label="`How ${open.label} is set`">
      <div class="bench-head">
        <h2>How {{ open.label }} is set</h2>
      </div>
      <SelectField v-if="options.length > 1" v-model="taken" label="Take from the shelf" :options="options" />
      <ChoiceField :path="`${open.path}.profile`" />
      <NumberField :path="at('absorption_v')" origin="datasheet" fallback="usual" />
      <ChoiceField :path="at('absorbed_by')" />
      <NumberField :path="at('absorption_h')" origin="datasheet" fallback="usual" />
      <NumberField :path="at('tail_a')" origin="datasheet" fallback="usual" />
      <ChoiceField :path="at('after')" />
      <NumberField :path="at('float_v')" origin="datasheet" fallback="usual" />
      <NumberField :path="at('rebulk_v')" origin="datasheet" fallback="usual" />
      <NumberField :path="at('bulk_h')" origin="datasheet" fallback="no cap" />
      <TickField :path="at('equalise')" />
      <NumberField v-if="equalises" :path="at('equalise_v')" origin="datasheet" fallback="usual" />
      <NumberField :path="at('compensation_mv_per_k')" origin="datasheet" fallback="none" />
    </section>
    <section :key="`${open.path}-making`" class="panel" :aria-label="`Lead and limits of ${open.label}`">
      <div class="bench-head"><h2>Its lead and its limits</h2></div>
      <NumberField v-if="!open.solar" :path="`${open.path}.charge_a`" origin="datasheet" fallback="usual" />
      <NumberField :path="`${open.path}.wire_mm2`" origin="measured" fallback="not known" />
      <NumberField :path="`${open.path}.wire_m`" origin="measured" fallback="not known" />
      <ChoiceField :path="at('senses')" />
      <NumberField :path="at('back_off_v')" origin="datasheet" fallback="no" />
      <NumberField :path="at('rated_at_v')" origin="datasheet" fallback="any volts" />
      <NumberField :path="at('rated_ambient_c')" />
      <NumberField :path="at('derating_percent_per_k')" />
      <ChoiceField :path="at('adjustable')" />
      <ChoiceField :path="at('wakes')" />
      <NumberField :path="at('cold_c')" origin="datasheet" fallback="none" />
      <NumberField :path="at('hot_c')" origin="datasheet" fallback="none" />
    </section>
  </div>
</template>

<style scoped>
.others {
  display: grid;
  grid-template-columns: 180px minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px;
  align-items: start;
}
.pick {
  display: block;
  width: 100%;
  text-align: left;
  padding: 4px 8px;
  min-height: 32px;
  border-left: 3px solid transparent;
}
.pick[aria-pressed='true'] {
  border-left-color: var(--copper);
  background: var(--copper-wash);
  font-weight: 600;
}
@media (max-width: 1100px) {
  .others {
    grid-template-columns: minmax(0, 1fr);
  }
  .pick {
    min-height: 44px;
  }
}
</style>
