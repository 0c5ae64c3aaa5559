<script setup lang="ts">
/** Which unit: the limits ruler, and the shelf fitted to this job and ranked. */
import { computed, ref, shallowRef } from 'vue'
import { answered, client, whyOf } from '../../api/client'
import { told } from '../../api/stream'
import type { UnitVerdict, Verdicts } from '../../api/types'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { useJob } from '../../job/store'
import { said } from '../../ui/locale'
import LimitsRuler from './LimitsRuler.vue'
import UnitTable from './UnitTable.vue'
import { asking } from '../../ui/asking'

const emit = defineEmits<{ working: [name: string] }>()
const job = useJob()
const verdicts = shallowRef<Verdicts | null>(null)
const { pending, trouble: waiting } = useDerived(
  'match',
  async (body, signal) => {
    for await (const line of told<Verdicts>('/api/match', body, signal)) verdicts.value = line // of a large shelf the first soon
    return job.sound
  },
  { pause_ms: 120 },
)
const units = computed(() => verdicts.value?.units ?? [])
const PAGE = 30
const many = ref(PAGE)
const listed = computed(() => units.value.filter((unit) => unit.fit !== 'no' || others.value))
const shown = computed(() => listed.value.slice(0, many.value))
const refusedCount = computed(() => verdicts.value?.refused ?? 0)
/** Where none fits, what stands in the way of most. */
const hindrance = computed(() => {
  if (!verdicts.value || verdicts.value.done < 1 || units.value.some((unit) => unit.fit !== 'no')) return ''
  const times = new Map<string, number>()
  for (const { reason } of units.value) times.set(reason, (times.get(reason) ?? 0) + 1)
  return [...times].sort((one, other) => other[1] - one[1])[0]?.[0] ?? ''
})
const others = ref(false)
const trouble = ref('')
const isolation = computed(() => job.assessment?.figures['match.isolation_needed'])

/** Of two that are chosen one after the other the later stands, whichever answer comes first. */
const asked = asking(() => job.id)
async function choose(verdict: UnitVerdict): Promise<void> {
  trouble.value = ''
  const counts = asked()
  try {
    const path = { name: 'chargers', number: verdict.id }
    const { document } = await answered(client.GET('/api/shelf/{name}/{number}', { params: { path } }))
    if (!counts()) return
    job.change([
      { path: 'charger', value: document },
      { path: 'current_limit_a', value: verdict.set_to_a },
    ])
  } catch (error) {
    refused(error)
  }
}
function refused(error: unknown): void {
  trouble.value = whyOf(error, 'The server does not answer; nothing was changed.')
}
async function chooseWhole(verdict: UnitVerdict): Promise<void> {
  if (job.design === null) return
  trouble.value = ''
  const counts = asked()
  try {
    const { design } = await answered(client.POST('/api/match/fit', { body: { unit: verdict.id, design: job.design } }))
    if (!counts()) return
    job.change([
      { path: 'charger', value: design.charger },
      { path: 'current_limit_a', value: design.current_limit_a },
      { path: 'supply.pieces', value: design.supply?.pieces },
      { path: 'delivery.pieces', value: design.delivery?.pieces },
    ])
  } catch (error) {
    refused(error)
  }
}
</script>

<template>
  <div class="match">
    <section class="panel rule" aria-label="Limits ruler">
      <div class="bench-head">
        <h2>Limits ruler</h2>
        <span class="aside">output current each limit allows</span>
      </div>
      <LimitsRuler :units="units" @working="emit('working', $event)" />
      <div class="fields">
        <ChoiceField path="choices.alternator_school" />
        <NumberField
          path="current_limit_a"
          :fallback="job.design?.charger ? `full, ${job.design.charger.output_a}` : 'no unit'"
        />
        <NumberField path="units" />
        <NumberField path="mount.ambient_c" origin="measured" />
      </div>
    </section>
    <section class="panel units" aria-label="Units on the shelf">
      <div class="bench-head">
        <h2>Units on the shelf</h2>
        <span v-if="isolation" class="aside" :class="isolation.value ? 'caution' : 'good'">{{
          isolation.value ? '▲ isolated wanted' : '✓ non-isolated will do'
        }}</span>
      </div>
      <div class="weights" role="group" aria-label="Weights of the ranking">
        <span class="muted">rank by</span>
        <label
          v-for="weight in [
            { path: 'choices.rank_cost', label: 'cost' },
            { path: 'choices.rank_rate', label: 'charge per hour' },
            { path: 'choices.rank_margin', label: 'margin' },
          ]"
          :key="weight.path"
          >{{ weight.label
          }}<input
            type="range"
            min="0"
            max="2"
            step="0.25"
            :value="(job.valueAt(weight.path) as number) ?? 1"
            :aria-label="`Weight of ${weight.label}`"
            @input="
              job.change([{ path: weight.path, value: Number(($event.target as HTMLInputElement).value) }], weight.path)
            "
        /></label>
      </div>
      <p v-if="trouble" class="stop small" role="alert">■ {{ trouble }}</p>
      <p v-if="verdicts && verdicts.done < 1" class="muted small" role="status" data-refining>
        {{ verdicts.weighed }} of {{ verdicts.of }} units weighed, the likeliest first; the rest is being fitted.
      </p>
      <UnitTable :units="shown" @choose="choose" @whole="chooseWhole" />
      <button v-if="listed.length > many" type="button" class="link small" @click="many += PAGE">
        Show {{ Math.min(PAGE, listed.length - many) }} more
      </button>
      <AnswerState :pending="pending" :trouble="waiting" doing="Fitting every unit to this job…" />
      <p v-if="verdicts && units.length === 0" class="muted">
        The shelf is empty. <RouterLink to="/shelf/chargers">Put units on the shelf</RouterLink>.
      </p>
      <p v-if="hindrance" class="caution none" data-none-fits>▲ None fits. Most often: {{ said(hindrance) }}.</p>
      <button v-if="refusedCount" type="button" class="link small" :aria-expanded="others" @click="others = !others">
        {{ others ? 'Hide' : 'Show' }} the {{ refusedCount }} that do not fit, with why
      </button>
    </section>
  </div>
</template>

<style scoped>
.none {
  margin: 8px 0;
}
.match {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.12fr);
  gap: 10px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 14px;
  margin-top: 4px;
  border-top: 1px solid var(--hair);
  padding-top: 4px;
}
.fields :deep(.field) {
  grid-template-columns: minmax(max-content, 1fr) minmax(52px, 86px) auto;
  min-height: 28px;
}
.fields :deep(.field:has(.p-select)) {
  grid-template-columns: minmax(max-content, 1fr) minmax(90px, 138px);
}
.weights {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  font-size: var(--text);
  align-items: center;
  margin-bottom: 4px;
}
.weights label {
  display: flex;
  align-items: center;
  gap: 4px;
  color: var(--muted);
}
.weights input {
  width: 62px;
  accent-color: var(--copper);
  height: 18px;
}
.small {
  font-size: var(--text);
  margin-top: 4px;
}
@media (max-width: 1100px) {
  .match {
    grid-template-columns: minmax(0, 1fr);
  }
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
