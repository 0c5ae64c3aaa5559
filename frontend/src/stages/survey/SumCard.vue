<script setup lang="ts">
/** One sum: its entries, the answer as they are typed, and how it came about. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import InputText from '../../ui/prime/inputtext'
import Select from '../../ui/prime/select'
import { computed, reactive, useId, watch } from 'vue'
import { answered, client, Refused, whyOf } from '../../api/client'
import { useJob } from '../../job/store'
import { fieldOf } from '../../ui/fields'
import { entered } from '../../ui/locale'
import { readIn, standing, unitSaid } from '../../ui/units'
import { useHalfTyped } from '../../ui/halfTyped'

const props = defineProps<{ sum: string; title: string; start: Record<string, unknown>; useLabel?: string }>()
const fields = Object.keys(props.start).map((key) => ({ key, unit: '0–1', ...fieldOf(`sum.${props.sum}.${key}`) }))
const chosen = (key: string) => fields.find((field) => field.key === key)?.choices !== undefined
const emit = defineEmits<{ use: [value: number] }>()
const id = useId()
const unitOf = (key: string) => fields.find((field) => field.key === key)?.unit ?? ''
const begun = (key: string) => {
  const value = props.start[key]
  return typeof value === 'number' && !chosen(key) ? entered(standing(value, unitOf(key))) : value
}
const job = useJob()
const typed = useHalfTyped<Record<string, unknown>>(() => `sum.${String(job.id)}.${props.sum}`, {})
const entries = reactive<Record<string, unknown>>({
  ...Object.fromEntries(Object.keys(props.start).map((key) => [key, begun(key)])),
  ...typed.value,
})
watch(entries, () => {
  typed.value = Object.fromEntries(Object.entries(entries).filter(([key, value]) => value !== begun(key)))
})
const asked = computed(() => ({
  sum: props.sum,
  ...Object.fromEntries(
    Object.entries(entries).map(([key, value]) => [
      key,
      typeof value === 'string' && !chosen(key) ? readIn(value, unitOf(key)) : value,
    ]),
  ),
}))
const { data, error } = useQuery({
  queryKey: ['sum', asked],
  queryFn: () => answered(client.POST('/api/sums', { body: { asked: asked.value as never } })),
  placeholderData: keepPreviousData,
  retry: false,
  gcTime: 0,
  meta: { said: true },
})
const errors = computed(() => (error.value instanceof Refused ? (error.value.problem.errors ?? []) : []))
const errorOf = (key: string) => errors.value.find((item) => item.path.endsWith(`.${key}`))?.message
const other = computed(() =>
  error.value === null || errors.value.length ? '' : whyOf(error.value, 'The server does not answer.'),
)
const figure = computed(() => data.value?.figures?.[0])
</script>

<template>
  <section class="panel" :aria-label="title" :data-sum="sum">
    <div class="bench-head">
      <h2>{{ title }}</h2>
    </div>
    <div v-for="field in fields" :key="field.key" class="pair">
      <label :id="`${id}-${field.key}-label`" :for="`${id}-${field.key}`">{{ field.label }}</label>
      <Select
        v-if="field.choices"
        v-model="entries[field.key]"
        :input-id="`${id}-${field.key}`"
        :aria-labelledby="`${id}-${field.key}-label`"
        :options="field.choices"
        option-label="label"
        option-value="value"
        size="small"
      />
      <span v-else class="entry"
        ><InputText
          :id="`${id}-${field.key}`"
          v-model="entries[field.key] as string"
          size="small"
          inputmode="decimal"
          autocomplete="off"
          :invalid="!!errorOf(field.key)"
        /><span class="unit">{{ unitSaid(field.unit ?? '') }}</span></span
      >
      <p v-if="errorOf(field.key)" class="error" role="alert">{{ errorOf(field.key) }}</p>
    </div>
    <p v-if="other" class="stop" role="alert">{{ other }}</p>
    <div v-else-if="data && errors.length === 0" class="answer" role="status">
      <p>
        <b>{{ data.text }}</b>
      </p>
      <div
        v-if="data.low !== null && data.low !== undefined && data.high !== null && data.high !== undefined"
        class="band"
        role="img"
        :aria-label="`state of charge between ${Math.round(data.low * 100)} and ${Math.round(data.high * 100)} percent`"
      >
        <span :style="{ left: `${data.low * 100}%`, width: `${Math.max(1.5, (data.high - data.low) * 100)}%` }" />
      </div>
      <p v-for="item in data.figures ?? []" :key="item.name" class="muted working">
        {{ item.label }}: {{ item.working }}
      </p>
      <button
        v-if="useLabel && figure && figure.value !== null"
        type="button"
        class="link"
        @click="emit('use', figure.value)"
      >
        {{ useLabel }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: minmax(max-content, 1fr) minmax(56px, 118px);
  gap: 2px 6px;
  align-items: center;
  min-height: 29px;
  font-size: var(--text);
}
.pair label {
  color: var(--muted);
  font-family: var(--narrow);
  white-space: nowrap;
  line-height: 1.1;
}
.entry {
  position: relative;
}
.entry :deep(input),
.pair :deep(.p-select) {
  width: 100%;
  min-width: 0;
}
.answer {
  border-top: 1px solid var(--hair);
  margin-top: 6px;
  padding-top: 6px;
  font-size: var(--lead);
  line-height: 1.35;
  display: grid;
  gap: 4px;
}
.working {
  font-size: var(--text);
}
.band {
  position: relative;
  height: 12px;
  border: 1px solid var(--edge);
  background: var(--field);
}
.band span {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--teal);
}
</style>
