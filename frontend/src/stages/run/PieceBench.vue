<script setup lang="ts">
/** The selected piece: its fields, what guards it, and the actions on it. */
import Button from '../../ui/prime/button'
import { computed } from 'vue'
import type { Cable, Joint } from '../../api/types'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import SelectField from '../../ui/SelectField.vue'
import TextField from '../../ui/TextField.vue'
import TickField from '../../ui/TickField.vue'
import DeviceFields from './DeviceFields.vue'
import PieceWalk from './PieceWalk.vue'
import { useCatalogue } from '../../job/catalogue'
import { quantity, sizeChoices } from '../../ui/format'
import { inserted, pathOf, placed, piecesOf, removed, split as cut, type Edit, type PieceKind } from '../../job/pieces'
import { useJob } from '../../job/store'
import { useWorkings } from '../../job/workings'

const emit = defineEmits<{ pick: [place: string] }>()
const job = useJob()
const { data: catalogue } = useCatalogue()
const at = computed(() => placed(job.design, job.place))
const workings = useWorkings(() => at.value?.piece.kind === 'device')
const piece = computed(() => at.value?.piece ?? null)
const base = computed(() => (at.value ? pathOf(at.value) : ''))
const run = computed(() => at.value?.run ?? (job.place === 'auxiliary' ? 'delivery' : 'supply'))
const facts = computed(() => job.pieceFacts.get(job.place))
const heading = computed(() => {
  const word =
    piece.value === null
      ? run.value === 'supply'
        ? 'Supply run'
        : 'Delivery run'
      : { cable: 'Cable', device: 'Protective device', joint: 'Joint', branch: 'Branch' }[piece.value.kind ?? 'cable']
  return piece.value === null ? word : `${word}, ${run.value}`
})
const aside = computed(() =>
  at.value && job.design ? `piece ${at.value.index + 1} of ${piecesOf(job.design, at.value.run).length}` : '',
)
const sizes = computed(() => sizeChoices(catalogue.value?.sizes ?? []))
const back = computed(() => job.design?.[run.value]?.back)
const way = computed({
  get: () => back.value?.kind ?? 'cable',
  set: (value: string) => {
    job.change([
      {
        path: `${run.value}.back`,
        value: value === 'cable' ? { kind: 'cable' } : { kind: 'chassis', resistance_mohm: null },
      },
    ])
  },
})
const WAYS = [
  { value: 'cable', label: 'own cable' },
  { value: 'chassis', label: 'chassis' },
]

function act(step: Edit | null): void {
  if (step === null) return
  job.change(step.changes)
  emit('pick', step.place)
}
function add(kind: PieceKind): void {
  const from = at.value ? job.place : run.value === 'delivery' ? 'charger' : 'start_battery'
  if (job.design) act(inserted(job.design, from, kind))
}
function remove(): void {
  if (job.design) act(removed(job.design, job.place))
}
function splitIt(): void {
  if (job.design) act(cut(job.design, job.place))
}
</script>

<template>
  <section class="panel piece" aria-label="Selected piece">
    <div class="bench-head">
      <h2>{{ heading }}</h2>
      <span class="aside">{{ aside }}<PieceWalk @pick="emit('pick', $event)" /></span>
    </div>
    <div class="acts">
      <Button
        label="Cable"
        icon="pi pi-plus"
        size="small"
        severity="secondary"
        variant="outlined"
        @click="add('cable')"
      />
      <Button
        label="Device"
        icon="pi pi-plus"
        size="small"
        severity="secondary"
        variant="outlined"
        @click="add('device')"
      />
      <Button
        label="Joint"
        icon="pi pi-plus"
        size="small"
        severity="secondary"
        variant="outlined"
        @click="add('joint')"
      />
      <Button
        label="Branch"
        icon="pi pi-plus"
        size="small"
        severity="secondary"
        variant="outlined"
        @click="add('branch')"
      />
      <Button
        v-if="piece?.kind === 'cable'"
        aria-label="Split this cable"
        title="Split (s)"
        icon="pi pi-arrows-h"
        size="small"
        severity="secondary"
        variant="text"
        @click="splitIt"
      />
      <Button
        v-if="piece"
        aria-label="Take this piece out"
        title="Take out (Delete)"
        icon="pi pi-trash"
        size="small"
        severity="secondary"
        variant="text"
        @click="remove"
      />
    </div>
    <template v-if="piece?.kind === 'cable'">
      <ChoiceField :path="`${base}.size`" :options="sizes" />
      <NumberField :path="`${base}.length_m`" origin="measured" />
      <ChoiceField :path="`${base}.metal`" />
      <ChoiceField :path="`${base}.insulation_c`" />
      <ChoiceField :path="`${base}.place`" />
      <NumberField :path="`${base}.grouped`" />
      <TickField :path="`${base}.conduit`" />
      <NumberField :path="`${base}.parallel`" />
      <ChoiceField :path="`${base}.strand`" />
      <ChoiceField :path="`${base}.there`" />
      <p v-if="facts && facts.ampacity_a != null" class="facts">
        Carries {{ quantity(facts.ampacity_a, 'A') }}
        <span class="muted"
          >({{ facts.table_source }}, {{ (piece as Cable).conduit ? 'conduit, ' : ''
          }}{{ quantity(facts.ambient_c, '°C') }} around it)</span
        ><template v-if="facts.other_ampacity_a !== facts.ampacity_a">
          By the other tables {{ quantity(facts.other_ampacity_a, 'A') }}
          <span class="muted">({{ facts.other_source }})</span>.</template
        >
        About {{ quantity(facts.temperature_c, '°C') }} by heat balance.
      </p>
    </template>
    <template v-else-if="piece?.kind === 'device'">
      <DeviceFields :path="base" />
      <p v-for="name in ['least_rating_a', 'prospective_a', 'fault_multiple']" :key="name" class="facts">
        {{ workings[`device.${job.place}.${name}`]?.working }}
      </p>
    </template>
    <template v-else-if="piece?.kind === 'joint'">
      <TextField :path="`${base}.name`" />
      <ChoiceField :path="`${base}.form`" />
      <NumberField :path="`${base}.resistance_mohm`" origin="measured" />
      <NumberField :path="`${base}.rating_a`" origin="datasheet" fallback="open" />
      <TickField
        v-if="(piece as Joint).form === 'plug' || (piece as Joint).form === 'connector'"
        :path="`${base}.keyed`"
      />
      <p class="facts muted">An own return has the same joint in it.</p>
    </template>
    <template v-else-if="piece?.kind === 'branch'">
      <TextField :path="`${base}.name`" />
      <ChoiceField :path="`${base}.feeds`" />
      <NumberField :path="`${base}.current_a`" origin="datasheet" />
      <ChoiceField :path="`${base}.size`" :options="sizes" />
      <NumberField :path="`${base}.length_m`" origin="measured" />
      <DeviceFields :path="`${base}.device`" optional />
    </template>
    <p v-else class="facts muted">Walk to a piece with ← →, or add one.</p>
    <SelectField v-model="way" label="Return" :options="WAYS" />
    <NumberField v-if="way === 'chassis'" :path="`${run}.back.resistance_mohm`" origin="measured" fallback="5" />
    <ChoiceField path="choices.ampacity_school" />
    <NumberField path="choices.drop_percent" origin="entered" />
  </section>
</template>

<style scoped>
.piece {
  padding: 9px 11px;
  overflow: auto;
  min-height: 0;
}
.piece :deep(.field) {
  grid-template-columns: minmax(max-content, 1fr) minmax(56px, 84px) 52px;
  min-height: 27px;
}
.piece :deep(.field:has(.p-select)),
.piece :deep(.field:not(:has(.unit, .origin))) {
  grid-template-columns: minmax(max-content, 1fr) minmax(100px, 142px);
}
.facts {
  font-size: var(--text);
  line-height: 1.35;
  margin: 4px 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 3px;
  margin: -2px 0 5px;
}
.acts :deep(.p-button) {
  padding: 2px 5px;
  gap: 3px;
  font-size: var(--small);
}
</style>
