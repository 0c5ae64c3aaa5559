<script setup lang="ts">
/** What a log says: what is not as designed and since when, what happened, what it gives for the circuit, the picture. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import Button from '../../../ui/prime/button'
import { answered, client, whyOf } from '../../../api/client'
import { useJob } from '../../../job/store'
import { intoSight } from '../../../ui/intoSight'
import { fixed, said } from '../../../ui/locale'
import { useBuildLog } from '../../build/buildLog'
import LogPicture from './LogPicture.vue'
import { lasting, moment } from './when'
import { counted } from '../../../ui/counted'

const props = defineProps<{ log: number }>()
const job = useJob()
const notes = useBuildLog()
const { data, error } = useQuery({
  queryKey: computed(() => ['device-log', job.id, job.version, props.log]),
  queryFn: () =>
    answered(client.GET('/api/jobs/{job_id}/logs/{log}', { params: { path: { job_id: job.id, log: props.log } } })),
  enabled: computed(() => job.id > 0),
  meta: { said: true },
})
const report = computed(() => data.value?.report)
const MOST = 12
const all = ref(false)
const happened = computed(() => (report.value?.happened ?? []).slice(0, all.value ? undefined : MOST))
const LABEL = computed(() => Object.fromEntries((report.value?.counted ?? []).map((item) => [item.what, item.label])))
const at = ref<{ from: number; to: number } | null>(null)
const HOUR = 3600
function show(from: number, until: number | null): void {
  at.value = { from: from - HOUR / 2, to: (until ?? from) + HOUR / 2 }
  void intoSight('[data-log-picture]')
}
const given = ref(false)
function evidence(): void {
  for (const reading of report.value?.readings ?? [])
    notes.note('Prove', reading.test, 'reading', { value: reading.value, unit: reading.unit })
  given.value = true
}
</script>

<template>
  <p v-if="error" class="stop" role="alert">■ {{ whyOf(error, 'The server does not answer; trying again.') }}</p>
  <template v-if="report">
    <section class="panel says" aria-label="What the log says">
      <div class="bench-head">
        <h2>What it says</h2>
        <span class="aside">
          {{ moment(report.begins_s) }} to {{ moment(report.ends_s) }}, a row every
          {{ fixed(report.every_s, report.every_s < 10 ? 1 : 0) }}&nbsp;s<template v-if="report.gaps">
            · {{ counted(report.gaps, 'gap') }}, {{ fixed(report.missing_h, 1) }}&nbsp;h missing
          </template>
        </span>
      </div>
      <ul class="differs" data-log-differs>
        <li v-for="item in report.differs" :key="item.key" :class="item.level">
          {{ { stop: '■', caution: '▲', note: '○' }[item.level] }} {{ said(item.text) }}
          <button v-if="item.since_s !== null" type="button" class="link" @click="show(item.since_s ?? 0, null)">
            since {{ moment(item.since_s ?? 0) }}
          </button>
        </li>
        <li v-if="!report.differs.length" class="good">✓ Nothing in it differs from the design.</li>
      </ul>
      <p v-for="text in data?.kept.troubles ?? []" :key="text" class="muted">Left out: {{ said(text) }}</p>
      <div class="two">
        <table aria-label="What it gives for the circuit">
          <thead>
            <tr>
              <th>Fitted, 95 % sure</th>
              <th class="number">as used</th>
              <th class="number">designed</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="fit in report.fits" :key="fit.key" :data-fit="fit.key">
              <td>{{ fit.label }}</td>
              <td class="number">
                {{ fixed(fit.value, fit.digits) }} ± {{ fixed(fit.spread, fit.digits) }} {{ fit.unit }}
              </td>
              <td class="number">
                {{ fit.designed === null ? '' : `${fixed(fit.designed, fit.digits)} ${fit.unit}` }}
              </td>
            </tr>
          </tbody>
        </table>
        <table aria-label="What happened, counted">
          <thead>
            <tr>
              <th>What happened</th>
              <th class="number">times</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="item in report.counted" :key="item.what" :data-counted="item.what">
              <td>{{ item.label }}</td>
              <td class="number">{{ item.count }}</td>
            </tr>
            <tr v-if="!report.counted.length">
              <td colspan="2" class="muted">nothing that shows</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-for="text in report.unsaid" :key="text" class="muted">○ {{ said(text) }}</p>
      <div v-if="report.readings.length" class="evidence">
        <Button
          label="Use its last full charge as readings"
          size="small"
          severity="secondary"
          variant="outlined"
          :disabled="given"
          data-log-evidence
          @click="evidence"
        />
        <span class="muted">
          {{
            given
              ? '✓ they stand in Prove, where causes are sought'
              : `${counted(report.readings.length, 'reading')} of one moment, for Prove and its causes`
          }}
        </span>
      </div>
    </section>
    <LogPicture :log="log" :report="report" :at="at" />
    <section v-if="report.happened.length" class="panel" aria-label="Happenings">
      <div class="bench-head"><h2>One by one</h2></div>
      <ol>
        <li v-for="item in happened" :key="`${item.what} ${item.at_s}`">
          <button type="button" class="link" @click="show(item.at_s, item.until_s)">
            {{ moment(item.at_s, true) }}
          </button>
          <b>{{ LABEL[item.what] }}</b>
          <span class="muted">{{
            said(item.text) || (item.until_s === null ? '' : lasting(item.until_s - item.at_s))
          }}</span>
        </li>
      </ol>
      <button v-if="report.happened.length > MOST" type="button" class="link more" @click="all = !all">
        {{ all ? 'fewer' : `all ${report.happened.length}` }}
      </button>
    </section>
  </template>
</template>

<style scoped>
.says {
  display: grid;
  gap: 8px;
  font-size: var(--text);
}
ul,
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
.differs {
  font-size: var(--head);
}
.differs li {
  padding: 2px 0;
}
ol {
  font-size: var(--text);
}
ol li {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 2px 0;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  align-items: start;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--muted);
}
td,
th {
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--hair);
}
.number {
  text-align: right;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
@media (max-width: 800px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
