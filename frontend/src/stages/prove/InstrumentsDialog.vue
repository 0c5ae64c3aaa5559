<script setup lang="ts">
/** The workshop's meters and supplies: which there are, one more, whether one answers. */
import { ref, toRef, useId } from 'vue'
import Button from '../../ui/prime/button'
import Checkbox from '../../ui/prime/checkbox'
import Dialog from '../../ui/prime/dialog'
import InputText from '../../ui/prime/inputtext'
import type { Instrument } from '../../api/types'
import { fieldOf } from '../../ui/fields'
import { readEntry } from '../../ui/number'
import { useInstruments } from './instruments'
import { emptying, useHalfTyped } from '../../ui/halfTyped'

const shown = defineModel<boolean>('visible', { required: true })
const { all, busy, trouble, add, remove, call } = useInstruments()
const id = useId()
const fresh = useHalfTyped('instrument', {
  name: '',
  host: '127.0.0.1',
  port: '5025',
  percent: '0.5',
  digits: '0.02',
  reads: ['volts', 'amps', 'ohms', 'celsius', 'seconds'] as Instrument['reads'],
})
const FIELDS = ['name', 'host', 'port', 'percent', 'digits'] as const
const field = (name: string) => fieldOf(`instrument.${name}`)
const answers = ref<Record<number, string>>({})
async function kept(): Promise<void> {
  const taken = emptying(toRef(fresh.value, 'name'))
  const made = await add({
    kind: 'meter',
    name: fresh.value.name,
    host: fresh.value.host,
    port: readEntry(fresh.value.port) as number,
    reads: fresh.value.reads,
    percent: readEntry(fresh.value.percent) as number,
    digits: readEntry(fresh.value.digits) as number,
  })
  if (made) taken()
}
async function called(number: number): Promise<void> {
  const found = await call(number)
  answers.value = { ...answers.value, [number]: found ? `answers: ${found.name}` : trouble.value }
}
</script>

<template>
  <Dialog v-model:visible="shown" modal header="Instruments" class="instruments" :style="{ width: 'min(560px, 96vw)' }">
    <p v-if="all.length === 0" class="muted">
      None yet. A meter with a network socket that speaks SCPI is read by one key; typing always works. To try it
      without one, start a simulated vehicle: <code>olvask rig</code>.
    </p>
    <ul v-else class="kept">
      <li v-for="item in all" :key="item.id" :data-instrument="item.instrument.name">
        <span
          ><b>{{ item.instrument.name }}</b>
          <span class="muted"> {{ item.instrument.host }}:{{ item.instrument.port }} · </span>
          <span class="muted">{{
            item.instrument.reads
              .map((name) => field('reads').choices?.find((it) => it.value === name)?.label)
              .join(', ')
          }}</span>
          <span class="told" role="status">{{ answers[item.id] ?? '' }}</span></span
        >
        <Button
          size="small"
          severity="secondary"
          variant="outlined"
          label="Does it answer?"
          :disabled="busy"
          @click="called(item.id)"
        />
        <Button
          size="small"
          text
          severity="danger"
          icon="pi pi-trash"
          :aria-label="`Take out ${item.instrument.name}`"
          @click="remove(item.id)"
        />
      </li>
    </ul>
    <form class="fresh" @submit.prevent="kept">
      <h3>One more</h3>
      <div v-for="name in FIELDS" :key="name" class="pair">
        <label :for="`${id}-${name}`" :title="field(name).help">{{ field(name).label }}</label>
        <InputText
          :id="`${id}-${name}`"
          v-model="fresh[name]"
          size="small"
          autocomplete="off"
          :inputmode="name === 'name' ? 'text' : 'decimal'"
        />
        <span class="muted">{{ field(name).unit ?? '' }}</span>
      </div>
      <fieldset>
        <legend>{{ field('reads').label }}</legend>
        <label v-for="choice in field('reads').choices" :key="String(choice.value)">
          <Checkbox v-model="fresh.reads" :value="choice.value" :input-id="`${id}-${String(choice.value)}`" />
          {{ choice.label }}
        </label>
      </fieldset>
      <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
      <Button type="submit" size="small" label="Keep it" :disabled="busy || fresh.name.trim() === ''" />
    </form>
  </Dialog>
</template>

<style scoped>
.kept {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}
.kept li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: center;
  border-bottom: 1px solid var(--hair);
  padding: 4px 0;
}
.told {
  display: block;
  color: var(--teal);
  font-size: var(--text);
}
.fresh {
  display: grid;
  gap: 6px;
}
.pair {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 70px;
  gap: 8px;
  align-items: center;
}
fieldset {
  border: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
legend {
  color: var(--muted);
}
fieldset label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 32px;
}
@media (max-width: 700px) {
  .pair {
    grid-template-columns: 1fr 60px;
  }
  .pair label {
    grid-column: 1 / -1;
  }
  fieldset label {
    min-height: 44px;
  }
}
</style>
