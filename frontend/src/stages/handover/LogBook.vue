<script setup lang="ts">
/** The logbook: what was done and read at each visit, where the readings lead, and what the driver's diary says. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toRef, watch } from 'vue'
import Button from '../../ui/prime/button'
import InputText from '../../ui/prime/inputtext'
import Select from '../../ui/prime/select'
import { notedAt } from '../../api/clock'
import { answered, client } from '../../api/client'
import { useJob } from '../../job/store'
import { measured } from '../../ui/format'
import { dateClock, dateOf, said } from '../../ui/locale'
import { readingOf } from '../../ui/reading'
import { useBuildLog } from '../build/buildLog'
import { small } from '../build/photograph'
import TrendPlot from './TrendPlot.vue'
import { KINDS, LOGBOOK, kindOf } from './logbook'
import { counted } from '../../ui/counted'
import { emptying, useHalfTyped } from '../../ui/halfTyped'

const job = useJob()
const log = useBuildLog()
const queries = useQueryClient()
const { data } = useQuery({
  queryKey: computed(() => ['logbook', job.id, job.version]),
  queryFn: () => answered(client.GET('/api/jobs/{job_id}/logbook', { params: { path: { job_id: job.id } } })),
  enabled: computed(() => job.id > 0),
  gcTime: 0,
})
watch(
  () => log.waiting.value.length,
  (left) => {
    if (left === 0) void queries.invalidateQueries({ queryKey: ['logbook'] })
  },
)
const FEW = 14
const fresh = useHalfTyped(() => `logbook.${String(job.id)}`, { kind: 'visit', text: '', driven: '' })
const trouble = ref('')
const kind = computed(() => kindOf(fresh.value.kind))
const dated = computed(() => fresh.value.kind === 'service_due')
const DAY = /^\d{4}-\d\d-\d\d$/
function wordsOf(entry: (typeof shown.value)[number]): string {
  if (entry.value !== null) return measured(entry.value, entry.unit, entry.unit === 'V' ? 2 : 1)
  return entry.step === 'service_due' && DAY.test(entry.text) ? dateOf(entry.text) : entry.text
}
function noted(): void {
  trouble.value = ''
  if (dated.value && !DAY.test(fresh.value.text.trim())) {
    trouble.value = 'Choose the day of the next service.'
    return
  }
  if (kind.value.unit === '') {
    if (fresh.value.text.trim() === '') return
    log.note(LOGBOOK, fresh.value.kind, 'note', { text: fresh.value.text.trim(), called: kind.value.label })
  } else {
    const range = (key: string) => data.value?.kinds.find((one) => one.key === key)
    const value = readingOf(fresh.value.text, kind.value.unit, kind.value.such, range(fresh.value.kind))
    const diary = fresh.value.kind === 'charge_percent'
    const driven = diary ? readingOf(fresh.value.driven || '0', 'h', 1.5, range('driven_h')) : 0
    if (typeof value !== 'number' || typeof driven !== 'number') {
      trouble.value =
        typeof value !== 'number' ? value.told : typeof driven !== 'number' ? `Driven since: ${driven.told}` : ''
      return
    }
    const at = notedAt()
    log.note(LOGBOOK, fresh.value.kind, 'reading', { value, unit: kind.value.unit, at, called: kind.value.label })
    if (diary) {
      log.note(LOGBOOK, 'driven_h', 'reading', { value: driven, unit: 'h', at, called: 'Driven since' })
      fresh.value.driven = ''
    }
  }
  fresh.value.text = ''
}
const camera = ref<HTMLInputElement | null>(null)
async function pictured(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  try {
    trouble.value = ''
    const { kind: step, text } = fresh.value
    const taken = emptying(toRef(fresh.value, 'text'))
    log.note(LOGBOOK, step, 'photo', { text: text.trim(), called: kindOf(step).label }, await small(file))
    taken()
  } catch {
    trouble.value = 'That file is no picture this device can read; take it as JPEG.'
  }
}
const all = ref(false)
const entries = computed(() => (data.value?.entries ?? []).filter((entry) => entry.step !== 'driven_h'))
const shown = computed(() => entries.value.slice(0, all.value ? 500 : FEW))
const use = computed(() => data.value?.use)
</script>

<template>
  <div class="logbook">
    <section class="panel" aria-label="Note">
      <div class="bench-head">
        <h2>Note</h2>
        <span v-if="log.waiting.value.length" class="aside caution">kept here, sent when in reach</span>
        <span v-else-if="data?.service_due" class="aside">next service {{ dateOf(data.service_due) }}</span>
      </div>
      <form class="fresh" @submit.prevent="noted">
        <label for="log-kind">What</label>
        <Select
          v-model="fresh.kind"
          input-id="log-kind"
          aria-label="What"
          :options="KINDS"
          option-label="label"
          option-value="key"
          size="small"
        />
        <label for="log-text">{{ kind.unit ? `Reading, ${kind.unit}` : dated ? 'Day' : 'Words' }}</label>
        <InputText
          id="log-text"
          v-model="fresh.text"
          :type="dated ? 'date' : 'text'"
          size="small"
          autocomplete="off"
          data-log-text
        />
        <template v-if="fresh.kind === 'charge_percent'">
          <label for="log-driven">Driven since, h</label>
          <InputText id="log-driven" v-model="fresh.driven" size="small" inputmode="decimal" autocomplete="off" />
        </template>
        <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
        <Button type="submit" label="Note it" size="small" data-log-note />
        <button type="button" class="link" @click="camera?.click()">Photograph</button>
        <input
          ref="camera"
          type="file"
          accept="image/*"
          capture="environment"
          hidden
          data-log-photo
          @change="pictured"
        />
      </form>
      <ol>
        <li v-for="entry in shown" :key="entry.id" data-log-entry>
          <span class="muted">{{ dateClock(entry.at) }} {{ entry.by }}</span>
          <b>{{ kindOf(entry.step).label }}</b>
          <a
            v-if="entry.photo"
            :href="`/api/jobs/${job.id}/build/photographs/${entry.photo}.jpg`"
            target="_blank"
            rel="noopener"
            ><img
              :src="`/api/jobs/${job.id}/build/thumbnails/${entry.photo}.jpg`"
              :alt="`Photograph by ${entry.by || 'somebody'}${entry.text ? `: ${entry.text}` : ''}`"
              width="72"
              height="54"
          /></a>
          <span v-else>{{ wordsOf(entry) }}</span>
        </li>
      </ol>
      <button v-if="entries.length > FEW" type="button" class="link more" @click="all = !all">
        {{ all ? 'fewer' : `all ${entries.length}` }}
      </button>
      <p v-if="data && shown.length === 0" class="muted">
        Nothing noted yet. Readings of Prove are followed too, once there are three.
      </p>
    </section>
    <section class="panel" aria-label="Where it leads">
      <div class="bench-head"><h2>Where it leads</h2></div>
      <p v-if="!data?.trends.length && !use" class="muted">
        Three readings of one kind show where it leads; a fortnight of mornings shows what the vehicle uses.
      </p>
      <template v-if="use">
        <p class="lead" data-use>{{ said(use.text) }}</p>
        <p v-for="line in use.why" :key="line" class="caution">▲ {{ said(line) }}</p>
        <p class="muted small">
          {{ counted(use.spans, 'span') }} between readings counted, {{ use.left_out }} left out: the battery was full
          or empty, or more hours are noted than there were.
        </p>
      </template>
      <article v-for="trend in data?.trends ?? []" :key="trend.key" :data-trend="trend.key">
        <p :class="trend.level">
          {{ trend.level === 'stop' ? '■ ' : trend.level === 'caution' ? '▲ ' : '' }}{{ said(trend.text) }}
        </p>
        <TrendPlot :trend="trend" />
      </article>
    </section>
  </div>
</template>

<style scoped>
.logbook {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.3fr);
  gap: 10px;
  min-height: 0;
}
.logbook > section {
  min-height: 0;
  overflow: auto;
}
.fresh {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 10px;
  align-items: center;
  font-size: var(--text);
}
.fresh .stop,
.fresh :deep(button) {
  grid-column: 1 / -1;
  justify-self: start;
}
ol {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
  font-size: var(--text);
}
li {
  display: grid;
  grid-template-columns: auto auto minmax(0, 1fr);
  gap: 8px;
  padding: 3px 0;
  border-bottom: 1px solid var(--hair);
}
.lead {
  font-size: var(--head);
  font-weight: 600;
}
.small {
  font-size: var(--text);
}
@media (max-width: 1100px) {
  .logbook {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
