<script setup lang="ts">
/** A number with its unit and where it came from. Whatever is typed stays; the core says what is wrong with it. */
import InputText from 'primevue/inputtext'
import { computed, ref, useId } from 'vue'
import { readEntry, useJob } from '../job/store'

const props = withDefaults(
  defineProps<{ path: string; label: string; unit?: string; origin?: 'datasheet' | 'measured' | 'own' | ''; fallback?: string; step?: number }>(),
  { unit: '', origin: '', fallback: '', step: 0 },
)
const job = useJob()
const id = useId()
const raw = computed(() => job.valueAt(props.path))
const fact = computed(() => job.assessment?.facts[props.path])
/** What is in the field right now, kept to the letter ("5." on its way to "5.5") while it means the stored value. */
const typedText = ref<string | null>(null)
const text = computed(() => {
  if (typedText.value !== null && readEntry(typedText.value) === (raw.value ?? null)) return typedText.value
  return raw.value === null || raw.value === undefined ? '' : String(raw.value)
})
const fault = computed(() => job.faults.get(props.path))
const standing = computed(() => {
  if ((fact.value?.provenance === 'default' || fact.value?.provenance === 'computed') && text.value === '') return `${Number(fact.value.value).toFixed(2).replace(/\.?0+$/, '')}`
  return props.fallback
})
const ORIGINS = ['measured', 'datasheet', 'own'] as const
const origin = computed(() => (text.value === '' ? 'default' : (job.design?.provenance?.[props.path] ?? 'own')))

function typed(event: Event): void {
  const entry = (event.target as HTMLInputElement).value
  const known = job.design?.provenance?.[props.path]
  typedText.value = entry
  job.enter(props.path, entry, props.origin === '' ? undefined : (known ?? props.origin))
}
function nextOrigin(): void {
  const at = ORIGINS.indexOf(origin.value as (typeof ORIGINS)[number])
  job.change([{ path: 'provenance', value: job.withProvenance(props.path, ORIGINS[(at + 1) % ORIGINS.length] ?? 'own') }])
}
function nudge(event: KeyboardEvent): void {
  if (props.step === 0 || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
  event.preventDefault()
  const from = Number(text.value === '' ? (fact.value?.value ?? props.fallback) : text.value)
  if (!Number.isFinite(from)) return
  const next = Math.round((from + (event.key === 'ArrowUp' ? props.step : -props.step)) * 1000) / 1000
  job.enter(props.path, String(next), props.origin === '' ? undefined : (job.design?.provenance?.[props.path] ?? props.origin))
}
</script>

<template>
  <div class="field" :data-path="path">
    <label :for="id">{{ label }}</label>
    <span class="entry" :class="{ bad: fault }">
      <InputText
        :id="id" :model-value="text" inputmode="decimal" autocomplete="off" :placeholder="standing" size="small" :invalid="!!fault"
        :aria-describedby="fault ? `${id}-fault` : undefined" @input="typed" @keydown="nudge" @blur="typedText = null"
      />
      <span v-if="unit" class="unit">{{ unit }}</span>
    </span>
    <button v-if="origin !== 'default' && props.origin !== ''" type="button" class="plain origin" :aria-label="`${label} is ${origin}; press to change where it came from`" @click="nextOrigin">{{ origin }}</button>
    <span v-else-if="props.origin !== '' && standing && fact" class="origin default">{{ fact.provenance === 'computed' ? 'summed' : 'default' }}</span>
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault.message }}</p>
  </div>
</template>

<style scoped>
.field { display: grid; grid-template-columns: minmax(60px, 1fr) minmax(76px, 104px) 50px; align-items: center; gap: 2px 6px; min-height: 29px; }
label { font-size: 13px; color: var(--muted); line-height: 1.1; }
.entry { position: relative; }
.entry :deep(input) { width: 100%; padding-right: 34px; font-weight: 500; text-align: left; }
.unit { position: absolute; right: 8px; top: 50%; transform: translateY(-50%); font-size: 12px; color: var(--muted); pointer-events: none; }
.origin { font-family: 'Barlow Semi Condensed'; font-size: 12px; color: var(--teal); text-decoration: underline dotted; }
.origin.default { color: var(--muted); text-decoration: none; font-style: italic; }
.fault { grid-column: 1 / -1; color: var(--madder); font-size: 12.5px; }
.fault::before { content: '■ '; font-size: 9px; vertical-align: 1px; }
</style>
