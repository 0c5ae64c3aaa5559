<script setup lang="ts">
/** House rules: who the workshop is, its units, what new jobs begin with; a sheet beside them as it would look. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useSessionStorage } from '@vueuse/core'
import { answered, client, Refused, whyOf } from '../api/client'
import type { EntryError, House } from '../api/types'
import AppBar from '../app/AppBar.vue'
import { documentOf, entriesOf } from '../shelf/entries'
import FormEntry from '../shelf/FormEntry.vue'
import AnswerState from '../ui/AnswerState.vue'
import { counted } from '../ui/counted'
import { focusFault } from '../ui/focus'
import Button from '../ui/prime/button'
import { SI, UNITS, unitSaid, type Units } from '../ui/units'
import FromTemplate from '../yard/FromTemplate.vue'
import MyPanel from '../people/MyPanel.vue'
import PeoplePanel from '../people/PeoplePanel.vue'
import CustomerPanel from './CustomerPanel.vue'
import HousePicture from './HousePicture.vue'
import HouseSample from './HouseSample.vue'
import { me, owns } from '../api/signedIn'

defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
const queries = useQueryClient()
const { data, error } = useQuery({
  queryKey: ['house'],
  queryFn: () => answered(client.GET('/api/house')),
  staleTime: Infinity,
  meta: { said: true },
})
const { data: form } = useQuery({
  queryKey: ['house', 'form'],
  queryFn: () => answered(client.GET('/api/house/form')),
  staleTime: Infinity,
})
const fields = computed(() => form.value?.fields ?? [])
const groups = computed(() => [...new Set(fields.value.map((field) => field.group))])
const entries = ref<Record<string, unknown>>({})
const beginFrom = ref<number | null>(null)
const picture = ref('')
/** What was typed outlives a reload, with the version it was typed on. */
interface Kept {
  on: number
  entries: Record<string, unknown>
  from: number | null
  picture?: string
}
const kept = useSessionStorage<Kept | null>('olvask.house', null, {
  serializer: { read: (text) => JSON.parse(text) as never, write: (value) => JSON.stringify(value) },
})
const errors = ref<EntryError[]>([])
const told = ref('')
const trouble = ref('')
const busy = ref(false)
let stored = ''
watch(
  [data, fields],
  () => {
    if (!data.value || fields.value.length === 0) return
    entries.value = entriesOf(data.value.house, fields.value)
    beginFrom.value = data.value.house.begin_from
    picture.value = data.value.house.workshop.picture
    stored = JSON.stringify([entries.value, beginFrom.value, picture.value])
    if (kept.value === null) return
    entries.value = { ...entries.value, ...kept.value.entries }
    beginFrom.value = kept.value.from
    picture.value = kept.value.picture ?? picture.value
  },
  { immediate: true },
)
const dirty = computed(
  () => stored !== '' && JSON.stringify([entries.value, beginFrom.value, picture.value]) !== stored,
)
watch(
  [entries, beginFrom, picture],
  () => {
    const keeping = { on: data.value?.version ?? 0, entries: entries.value, from: beginFrom.value }
    kept.value = dirty.value ? { ...keeping, picture: picture.value } : null
  },
  { deep: true },
)
const typed = computed(() => {
  const house = documentOf({ ...data.value?.house }, fields.value, entries.value) as unknown as House
  return { ...house, workshop: { ...house.workshop, picture: picture.value }, begin_from: beginFrom.value }
})
const units = computed<Units>(() => ({ ...SI, ...typed.value.units }))
const errorOf = (path: string) => errors.value.find((item) => item.path === `house.${path}`)?.message
const loose = computed(() =>
  errors.value.filter((item) => !fields.value.some((field) => item.path === `house.${field.path}`)),
)
async function save(): Promise<void> {
  busy.value = true
  errors.value = []
  told.value = trouble.value = ''
  const sent = JSON.stringify(typed.value)
  try {
    const answer = await answered(
      client.PUT('/api/house', { body: { based_on: data.value?.version ?? 0, house: typed.value } }),
    )
    if (JSON.stringify(typed.value) === sent) kept.value = null // what was typed meanwhile is still to be saved
    queries.setQueryData(['house'], answer)
    told.value = 'Saved. New jobs begin by these rules; jobs there are keep theirs.'
    if (JSON.stringify(answer.house.units) !== JSON.stringify(UNITS)) location.reload() // every figure anew
  } catch (refused) {
    errors.value = refused instanceof Refused ? (refused.problem.errors ?? []) : []
    if (refused instanceof Refused) trouble.value = errors.value.length ? '' : refused.problem.detail
    else trouble.value = 'The server does not answer. What you typed is still here; save it again later.'
    if (refused instanceof Refused && refused.problem.status === 409)
      await queries.invalidateQueries({ queryKey: ['house'], exact: true })
  } finally {
    busy.value = false
    if (errors.value.length) void nextTick(() => focusFault('.rules'))
  }
}
</script>

<template>
  <div class="house">
    <AppBar where="House" :night="night" @night="$emit('night')" />
    <main>
      <form class="rules" aria-label="House rules" @submit.prevent="save">
        <p v-if="error" class="stop" role="alert">■ {{ whyOf(error, 'The server does not answer; trying again.') }}</p>
        <AnswerState v-else-if="!form || !data" :pending="true" trouble="" doing="Fetching the house rules…" />
        <template v-else>
          <fieldset v-for="group in groups" :key="group" class="panel">
            <legend>
              <h2>{{ group }}</h2>
            </legend>
            <div class="grid">
              <div
                v-for="field in fields.filter((one) => one.group === group)"
                :key="field.path"
                class="pair"
                :class="field.kind"
                :data-house="field.path"
              >
                <label :id="`l-${field.path}`" :for="`f-${field.path}`" :title="field.help"
                  >{{ field.label }}<small v-if="field.unit">, {{ unitSaid(field.unit) }}</small></label
                >
                <FormEntry v-model="entries[field.path]" :field="field" :invalid="!!errorOf(field.path)" />
                <p v-if="errorOf(field.path)" class="error" role="alert">{{ errorOf(field.path) }}</p>
              </div>
              <HousePicture v-if="group === groups[0]" v-model="picture" />
              <FromTemplate v-if="group === groups.at(-1)" v-model="beginFrom" />
            </div>
          </fieldset>
          <p v-for="wrong in loose" :key="wrong.path" class="stop" role="alert">
            ■ {{ wrong.field }}: {{ wrong.message }}
          </p>
          <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
          <div class="foot">
            <Button
              type="submit"
              label="Save the house rules"
              size="small"
              :loading="busy"
              :disabled="!dirty || !owns"
              data-house-save
            />
            <span v-if="told" role="status" class="good" data-house-told>✓ {{ told }}</span>
            <span v-else-if="!owns" class="muted">An owner may save these.</span>
            <span v-else-if="errors.length" class="stop" role="status"
              >■ {{ counted(errors.length, 'entry', 'entries') }} to mend, not saved</span
            >
            <span v-else-if="dirty" class="caution">▲ not saved yet</span>
          </div>
        </template>
      </form>
      <HouseSample v-if="data && form" :house="typed" :units="units" />
      <MyPanel v-if="me" class="wide" />
      <PeoplePanel v-if="owns" class="wide" />
      <CustomerPanel v-if="owns" class="wide" />
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 14px;
  align-items: start;
  padding: 14px 24px 30px;
  max-width: 1320px;
  margin: 0 auto;
}
.wide {
  grid-column: 1;
  padding: 12px 14px;
}
.rules {
  display: grid;
  gap: 12px;
}
fieldset {
  margin: 0;
  padding: 6px 14px 12px;
  min-width: 0;
}
legend {
  padding: 0 6px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 8px 22px;
  align-items: start;
}
.pair {
  display: grid;
  gap: 2px;
  font-size: var(--text);
}
.pair label,
.grid :deep(.pair label) {
  color: var(--muted);
}
.pair.texts {
  grid-row: span 2;
}
.pair :deep(.p-select),
.pair :deep(input[type='text']),
.pair :deep(textarea) {
  width: 100%;
  min-width: 0;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  position: sticky;
  bottom: 0;
  padding: 8px 0;
  background: var(--paper);
}
@media (max-width: 1000px) {
  main {
    grid-template-columns: minmax(0, 1fr);
    padding: 10px 12px 30px;
  }
}
</style>
