<script setup lang="ts">
/** Working through a procedure: the thread on the left, the open step large; on a phone the step alone. */
import { useMediaQuery, useSessionStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { NewEntry, Placed, Procedure } from '../../api/types'
import { useJob } from '../../job/store'
import { said } from '../../ui/locale'
import { useBuildLog } from './buildLog'
import { GROUPS } from './groups'
import StepCard from './StepCard.vue'
import StepThread from './StepThread.vue'
import WaitingHere from './WaitingHere.vue'

const props = defineProps<{ procedure: Procedure }>()
const job = useJob()
const log = useBuildLog()
const title = computed(() => props.procedure.title)
const stateOf = (step: string) => log.of(title.value, step)
const settled = (placed: Placed) => (stateOf(placed.step.key)?.state ?? 'open') !== 'open'
const chosen = useSessionStorage<Record<string, string>>('olvask.build.step', {})
const place = computed(() => `${String(job.id)}.${title.value}`)
const current = computed<Placed | undefined>(
  () =>
    props.procedure.steps.find((placed) => placed.step.key === chosen.value[place.value]) ??
    props.procedure.steps.find((placed) => !settled(placed)) ??
    props.procedure.steps.at(-1),
)
const odds = computed(() => props.procedure.steps.filter((placed) => stateOf(placed.step.key)?.accounts?.length))
const done = computed(() => props.procedure.steps.filter(settled).length)
const next = computed(() => {
  const at = current.value?.number ?? 0
  const after = props.procedure.steps.slice(at)
  return after.find((placed) => !settled(placed)) ?? after[0]
})
const numbers = computed(() => new Map(props.procedure.steps.map((item) => [item.step.key, item.number])))
const texts = computed(() => new Map(props.procedure.steps.map((item) => [item.step.key, item.step.text])))
const narrow = useMediaQuery('(max-width: 700px)')
const whole = ref(false)
function go(step: string): void {
  chosen.value = { ...chosen.value, [place.value]: step }
  whole.value = false
  if (narrow.value) window.scrollTo({ top: 0 })
}
async function note(kind: NewEntry['kind'], more?: Partial<NewEntry>, picture?: Promise<string>): Promise<void> {
  const [procedure, open] = [title.value, current.value?.step]
  if (open === undefined) return
  const [step, said] = [open.key, { ...more, called: open.text }]
  chosen.value = { ...chosen.value, [place.value]: step } // what is noted does not move the page on by itself
  if (picture === undefined) log.note(procedure, step, kind, said)
  else
    await picture.then(
      (taken) => {
        log.note(procedure, step, kind, said, taken)
      },
      () => undefined,
    ) // no picture: said where it was chosen
}
const emit = defineEmits<{ conductors: [names: readonly string[]] }>()
watch(
  () => current.value?.step.conductors ?? [],
  (names) => {
    emit('conductors', names)
  },
  { immediate: true },
)
</script>

<template>
  <div class="work" :class="{ whole }">
    <div class="top">
      <p class="muted">{{ done }} of {{ procedure.steps.length }} settled</p>
      <WaitingHere :log="log" />
      <p v-for="item in odds" :key="item.step.key" class="caution" role="status">
        ▲ Two accounts of
        <button type="button" class="link" data-odds @click="go(item.step.key)">step {{ item.number }}</button>
      </p>
      <ol class="beads" aria-hidden="true">
        <li
          v-for="item in procedure.steps"
          :key="item.step.key"
          :class="[stateOf(item.step.key)?.state ?? 'open', { now: item === current }]"
        ></li>
      </ol>
    </div>
    <p v-if="procedure.text" class="muted text">{{ said(procedure.text) }}</p>
    <div v-for="item in procedure.contradictions" :key="item.text" class="stop clash" role="alert">
      ■ {{ said(item.text) }}
    </div>
    <p v-for="text in procedure.unknown" :key="text" class="caution text">▲ {{ text }}</p>
    <div class="body">
      <StepThread
        v-if="!narrow || whole"
        :steps="procedure.steps"
        :open="current?.step.key ?? ''"
        :state-of="stateOf"
        @go="go"
      />
      <StepCard
        v-if="current && !(narrow && whole)"
        :placed="current"
        :title="title"
        :group="GROUPS[current.step.group] ?? ''"
        :of="procedure.steps.length"
        :state="stateOf(current.step.key)"
        :next="next"
        :numbers="numbers"
        :texts="texts"
        :job-id="job.id"
        @note="note"
        @done="next && go(next.step.key)"
        @go="go"
      />
      <slot />
    </div>
    <div v-if="narrow" class="walk">
      <button
        type="button"
        class="plain"
        :disabled="(current?.number ?? 1) === 1"
        @click="go(procedure.steps[(current?.number ?? 2) - 2]?.step.key ?? '')"
      >
        ‹ {{ (current?.number ?? 1) > 1 ? (current?.number ?? 1) - 1 : 'first' }}
      </button>
      <button type="button" class="plain" @click="whole = !whole">{{ whole ? 'the step ›' : 'whole thread ›' }}</button>
    </div>
  </div>
</template>

<style scoped>
.work {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-height: 0;
}
.body {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(190px, 0.62fr) minmax(0, 1fr);
  gap: 10px;
}
.body > :deep(*) {
  min-height: 0;
  overflow: auto;
}
.body:has(> :deep(section.beside)) {
  grid-template-columns: minmax(170px, 0.55fr) minmax(280px, 1fr) minmax(0, 1fr);
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
}
.text {
  font-size: var(--text);
}
.clash {
  border: 1px solid var(--madder);
  border-radius: 3px;
  padding: 8px 10px;
}
.beads {
  display: flex;
  flex: 1 1 100%;
  gap: 2px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.beads li {
  flex: 1;
  height: 6px;
  background: var(--hair);
}
.beads .done {
  background: var(--verdigris);
}
.beads .skipped {
  background: var(--ochre);
}
.beads .now {
  outline: 2px solid var(--copper);
}
.walk {
  display: flex;
  justify-content: space-between;
}
.walk button {
  min-height: 44px;
  padding: 0 10px;
  color: var(--muted);
}
@media (max-width: 700px) {
  .body,
  .body:has(> :deep(section.beside)) {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
