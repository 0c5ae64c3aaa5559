<script setup lang="ts">
/** The other ways: isolated or not and why, both return paths, a plain link in numbers, a managed link. */
import { entered, fixed } from '../../ui/locale'
import { computed } from 'vue'
import { quantity } from '../../ui/format'
import { useJob } from '../../job/store'
import { useWorkings } from '../../job/workings'
import ManagedLink from './ManagedLink.vue'

const emit = defineEmits<{ working: [name: string] }>()
const job = useJob()
const figure = (name: string) => job.assessment?.figures[name]
const workings = useWorkings()
const isolation = computed(() => figure('match.isolation_needed'))
const link = computed(() => job.assessment?.link ?? null)
const output = computed(() => figure('output.current_a')?.value ?? null)
const rated = computed(() => job.design?.vehicle.alternator.rated_a ?? 0)
const most = computed(() => Math.max(link.value?.link_a ?? 0, rated.value, 10) * 1.08)
const bars = computed(() => {
  if (link.value === null) return []
  const input = figure('idle.input_a')?.value ?? null
  return [
    {
      label: 'Plain link, first moment',
      amps: link.value.link_a,
      note: `${fixed(link.value.alternator_percent, 0)} % of the alternator with its own loads`,
      tone: link.value.alternator_percent > 100 ? 'bad' : 'mid',
    },
    {
      label: 'Managed link, average',
      amps: link.value.managed_a,
      note: `on ${Math.round(link.value.duty * 100)} % of the time`,
      tone: 'mid',
    },
    ...(input === null
      ? []
      : [
          {
            label: 'This charger, input',
            amps: input,
            note: `fixed by its setting; ${quantity(output.value, 'A')} out`,
            tone: 'fine',
          },
        ]),
  ]
})
const back = computed(() => ({
  supply: job.design?.supply?.back?.kind ?? 'cable',
  delivery: job.design?.delivery?.back?.kind ?? 'cable',
}))
function returnBy(run: 'supply' | 'delivery', kind: 'cable' | 'chassis'): void {
  job.change([{ path: `${run}.back`, value: kind === 'cable' ? { kind } : { kind, resistance_mohm: null } }])
}
</script>

<template>
  <div class="ways">
    <section class="panel" aria-label="Isolation and return">
      <div class="bench-head"><h2>Isolated or not</h2></div>
      <p v-if="isolation">
        <b :class="isolation.value ? 'caution' : 'good'">{{
          isolation.value ? '▲ Isolated unit wanted' : '✓ Non-isolated will do'
        }}</b><template v-if="workings[isolation.name]">: {{ workings[isolation.name]?.working }}</template
        >.
      </p>
      <p class="muted">
        A non-isolated unit has one shared negative and needs the two negatives common anyway. Isolation does not make
        it charge better; either kind suits any chemistry.
      </p>
      <h3>The way back</h3>
      <div
        v-for="run in ['supply', 'delivery'] as const"
        :key="run"
        class="pair"
        role="group"
        :aria-label="`Return of the ${run} run`"
      >
        <span>{{ run }} run</span
        ><button
          type="button"
          class="choice"
          :class="{ on: back[run] === 'cable' }"
          :aria-pressed="back[run] === 'cable'"
          @click="returnBy(run, 'cable')"
        >
          own negative cable</button
        ><button
          type="button"
          class="choice"
          :class="{ on: back[run] === 'chassis' }"
          :aria-pressed="back[run] === 'chassis'"
          @click="returnBy(run, 'chassis')"
        >
          through the body
        </button>
      </div>
      <p class="muted">
        A cable of its own is the default: body joints are an unknown resistance, and current in panels finds bearings
        and sensors.
      </p>
    </section>
    <section class="panel" aria-label="A link without a charger">
      <div class="bench-head">
        <h2>A link without a charger</h2>
        <span class="aside">at idle or ready, auxiliary at 20&nbsp;%</span>
      </div>
      <template v-if="link">
        <div v-for="bar in bars" :key="bar.label" class="bar">
          <span class="name">{{ bar.label }}</span><span class="track"
            ><span
              class="fill"
              :class="bar.tone"
              :style="{ width: `${Math.min(100, (bar.amps / most) * 100)}%` }" /><span
              class="rated"
              :style="{ left: `${(rated / most) * 100}%` }" /></span
          ><b>{{ quantity(bar.amps, 'A') }}</b
          ><span class="muted note-text">{{ bar.note }}</span>
        </div>
        <p class="muted small">
          The mark is the source's rated {{ entered(rated) }}&nbsp;A.
          <button
            type="button"
            class="link"
            data-figure="match.direct_link_a"
            @click="emit('working', 'match.direct_link_a')"
          >
            Working</button
          ><template v-if="!link.laid"> · the runs are not laid: 10 mΩ stand in</template>
        </p>
        <h3>What speaks against it here</h3>
        <ul>
          <li v-for="risk in link.risks" :key="risk">{{ risk[0]?.toUpperCase() + risk.slice(1) }}.</li>
          <li v-if="link.loss_w > 1">{{ fixed(link.loss_w, 0) }}&nbsp;W heat the cables in the first moment.</li>
        </ul>
      </template>
      <p v-else class="muted">The batteries differ in nominal voltage: no link can join them.</p>
    </section>
    <ManagedLink />
  </div>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr) minmax(0, 1.25fr);
  gap: 10px;
}
section {
  padding: 8px 12px;
  overflow: auto;
  min-height: 0;
  font-size: var(--text);
  line-height: 1.4;
}
h3 {
  font-size: var(--text);
  font-weight: 600;
  margin: 10px 0 3px;
}
p {
  margin-bottom: 5px;
}
.pair {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-bottom: 4px;
}
.pair > span {
  width: 82px;
  color: var(--muted);
}
.choice {
  border: 1px solid var(--edge);
  background: var(--panel);
  border-radius: 3px;
  padding: 3px 9px;
  cursor: pointer;
  color: var(--muted);
}
.choice.on {
  background: var(--ink);
  color: var(--panel);
  font-weight: 500;
}
.bar {
  display: grid;
  grid-template-columns: 158px minmax(60px, 1fr) 62px;
  gap: 2px 10px;
  align-items: center;
  margin-bottom: 5px;
}
.bar b {
  text-align: right;
}
.note-text {
  grid-column: 2 / -1;
  font-size: var(--small);
  line-height: 1.1;
}
.track {
  position: relative;
  height: 13px;
  background: var(--field);
  border: 1px solid var(--hair);
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--copper);
  opacity: 0.75;
}
.fill.bad {
  background: var(--madder);
}
.fill.fine {
  background: var(--verdigris);
}
.rated {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px solid var(--ink);
}
ul {
  margin: 0 0 6px;
  padding-left: 18px;
}
.small {
  font-size: var(--text);
}
@media (max-width: 1100px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
  }
  .bar {
    grid-template-columns: 1fr 70px;
  }
  .track {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  .note-text {
    grid-column: 1 / -1;
  }
  .choice {
    min-height: 44px;
  }
}
</style>
