<script setup lang="ts">
/** A number with its unit and where it came from. Whatever is typed stays; the core says what is wrong with it. */
import InputText from 'primevue/inputtext'
import { computed, ref, useId } from 'vue'
import { useJob } from '../job/store'
import { fieldAt } from './fields'
import { asThere, entered, fixed } from './locale'
import { asTyped } from './number'
import { behind } from './counted'
import { stepped } from './stepped'
import { readIn, standing as standingIn, unitSaid } from './units'

type Origin = 'datasheet' | 'measured' | 'entered'
const props = withDefaults(
  defineProps<{ path: string; origin?: Origin | ''; fallback?: string; glyph?: string; bare?: boolean }>(),
  {
    origin: '',
    fallback: '',
    glyph: '',
    bare: false,
  },
)
const ORIGINS = ['measured', 'datasheet', 'entered'] as const
const job = useJob()
const id = useId()
const field = computed(() => fieldAt(job.design, props.path))
const raw = computed(() => job.valueAt(props.path))
const fact = computed(() => job.assessment?.facts[props.path])
/** What is in the field right now, kept to the letter ("5." on its way to "5.5") while it means the stored value. */
const typedText = ref<string | null>(null)
const text = computed(() => {
  if (typedText.value !== null && readIn(typedText.value, field.value.unit) === (raw.value ?? null))
    return typedText.value
  return typeof raw.value === 'number'
    ? entered(standingIn(raw.value, field.value.unit ?? ''))
    : asTyped(String(raw.value ?? ''))
})
const error = computed(() => job.errors.get(props.path))
const assumed = computed(() => text.value === '' && ['default', 'computed'].includes(fact.value?.provenance ?? ''))
const standing = computed(() => {
  if (!assumed.value) return asThere(props.fallback)
  return fixed(standingIn(Number(fact.value?.value), field.value.unit ?? ''), 2).replace(/[.,]?0+$/, '')
})
const origin = computed(() => (text.value === '' ? 'default' : (job.design?.provenance?.[props.path] ?? 'entered')))
const toSay = computed(() => (props.origin === '' ? undefined : (job.design?.provenance?.[props.path] ?? props.origin)))

function typed(event: Event): void {
  const entry = (event.target as HTMLInputElement).value
  typedText.value = entry
  job.enter(props.path, entry, toSay.value)
}
function nextOrigin(): void {
  const at = ORIGINS.indexOf(origin.value as Origin)
  const next = ORIGINS[(at + 1) % ORIGINS.length] ?? 'entered'
  job.change([{ path: 'provenance', value: job.withProvenance(props.path, next) }])
}
function nudge(event: KeyboardEvent): void {
  const share = field.value.unit === 'share'
  const from = text.value === '' ? standing.value || props.fallback : text.value
  const next = stepped(event, from, (field.value.step ?? 0) * (share ? 100 : 1))
  if (next !== null) job.enter(props.path, share ? `${entered(next)} %` : entered(next), toSay.value)
}
</script>

<template>
  <div class="field" :class="{ bare }" :data-path="path">
    <label :for="id" :class="{ 'visually-hidden': bare }" :title="field.help"
      ><span v-if="glyph" aria-hidden="true">{{ glyph }} </span>{{ field.label }}</label
    >
    <span class="entry" :class="{ bad: error }" :style="{ '--unit-ch': unitSaid(field.unit ?? '').length }">
      <InputText
        :id="id"
        :model-value="text"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="standing"
        size="small"
        :invalid="!!error"
        :aria-describedby="error ? `${id}-error` : undefined"
        @input="typed"
        @keydown="nudge"
        @blur="typedText = null"
      />
      <span v-if="field.unit" class="unit">{{ behind(text || standing, unitSaid(field.unit)) }}</span>
    </span>
    <button
      v-if="origin !== 'default' && props.origin !== ''"
      type="button"
      class="plain origin"
      :aria-label="`${field.label} is ${origin}; press to change where it came from`"
      @click="nextOrigin"
    >
      {{ origin }}
    </button>
    <span v-else-if="props.origin !== '' && standing && fact" class="origin default">{{
      fact.provenance === 'computed' ? 'worked out' : 'default'
    }}</span>
    <p v-if="error" :id="`${id}-error`" class="error" role="alert">{{ error.message }}</p>
  </div>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: minmax(max-content, 1fr) minmax(56px, 104px) 50px;
  align-items: center;
  gap: 2px 6px;
  min-height: 29px;
}
.field.bare {
  display: block;
  min-height: 0;
}
.entry {
  position: relative;
}
.entry :deep(input) {
  width: 100%;
  /* No more than its unit takes: a narrow entry shows its figures. */
  padding-right: min(16px + 0.5em * var(--unit-ch), 46px);
  font-weight: 500;
  text-align: left;
}
.bare .entry :deep(input) {
  padding: 2px 20px 2px 7px;
}
.origin {
  font-family: var(--narrow);
  font-size: var(--small);
  color: var(--teal);
  text-decoration: underline dotted;
}
.origin.default {
  color: var(--muted);
  text-decoration: none;
  font-style: italic;
}
</style>
