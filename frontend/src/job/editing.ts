/** What the keys do to the pieces of the job, and where the focus goes. */
import { until } from '@vueuse/core'
import { computed, nextTick, type ComputedRef } from 'vue'
import type { Stage } from '../app/router'
import type { KeyActions } from '../app/keys'
import { answered, client } from '../api/client'
import { focusWhenThere } from '../ui/focus'
import { useCatalogue } from './catalogue'
import type { Change } from './change'
import { inserted, placed, placesOf, removed, shifted, shownAt, split, stepped, stretched, type Edit } from './pieces'
import { useJob } from './store'
import { asking } from '../ui/asking'
import { painted } from '../ui/painted'

const BENCH_FOR: Record<string, Stage> = {
  alternator: 'survey',
  start_battery: 'survey',
  auxiliary: 'survey',
  charger: 'match',
}

type Keys = 'walk' | 'step' | 'enter' | 'escape' | 'insert' | 'split' | 'shift' | 'stretch' | 'remove'
export interface Editing extends Pick<KeyActions, Keys> {
  /** Put something in focus, and open the stage where it is worked on. */
  pick: (place: string) => void
  /** The same by a press on the line: a station opens the stage where it is entered. */
  choose: (place: string) => void
}

const onLine = (place: string) => `[data-place="${place}"]`

export function useEditing(stage: ComputedRef<Stage>, go: (to: Stage) => void): Editing {
  const job = useJob()
  const { data: catalogue } = useCatalogue()
  const places = computed(() => placesOf(job.design))
  /** Put the focus on something of the line. What was just put in stands there once it is judged, which may take more
   *  than one answer: answers to earlier changes can still be on their way. */
  async function focus(place: string): Promise<void> {
    const stands = () => placesOf(job.judged).includes(place)
    if (!stands()) await until(() => stands() || job.place !== place).toBe(true)
    await nextTick()
    if (job.place === place) document.querySelector<SVGElement>(onLine(place))?.focus()
  }
  function pick(place: string): void {
    const base = shownAt(job.design, place)
    job.place = places.value.includes(base) ? base : 'charger'
    if (placed(job.design, job.place) !== null && stage.value !== 'run') go('run')
    void focus(job.place)
  }
  function choose(place: string): void {
    pick(place)
    const bench = BENCH_FOR[place]
    if (bench && stage.value === 'run') go(bench)
  }
  function act(step: Edit | null): void {
    if (step === null) return
    job.change(step.changes)
    pick(step.place)
  }
  const asked = asking(() => job.id)
  /** The next unit of the shelf; the shelf may be large, so the server looks. */
  async function nextUnit(by: 1 | -1): Promise<void> {
    const before = job.design
    if (before === null) return
    const body = { by, design: before }
    const counts = asked()
    const unit = await answered(client.POST('/api/match/next', { body })).then(
      (found) => found.unit,
      () => null, // refused or out of reach, which stands beside the fields: the unit stays
    )
    if (unit === null || !counts() || job.design?.charger?.id !== before.charger?.id) return
    job.change([
      { path: 'charger', value: unit },
      { path: 'current_limit_a', value: null },
    ])
  }
  /** Who has pressed a key presses on, mostly the same way: both ways on are judged once the change is drawn. */
  async function nudge(changesBy: (way: number) => Change[], by: number, mergeAs = ''): Promise<void> {
    const changes = changesBy(by)
    job.foresee([changes])
    job.change(changes, mergeAs, true)
    const [wanted, place] = [job.design, job.place]
    await until(() => job.judged === wanted || job.design !== wanted).toBe(true)
    await painted()
    if (job.design === wanted && job.place === place) job.foresee([changesBy(by), changesBy(-by)])
  }
  /** Open a stage and begin at its first entry, which may have to be fetched first. */
  async function enterBench(bench: Stage): Promise<void> {
    if (bench !== stage.value) {
      go(bench)
      await until(stage).toBe(bench)
      await nextTick() // what stood there before is gone
    }
    await focusWhenThere('.bench input, .bench [role=combobox]')
  }
  return {
    pick,
    choose,
    walk: (by) => {
      const next = places.value[places.value.indexOf(job.place) + by]
      if (next === undefined) return
      job.place = next
      void focus(next)
    },
    step: (by) => {
      if (job.place === 'charger') void nextUnit(by)
      else
        void nudge(
          (way) => (job.design && catalogue.value ? stepped(job.design, catalogue.value, job.place, way) : []),
          by,
        )
    },
    enter: () => {
      const bench = placed(job.design, job.place) === null ? BENCH_FOR[job.place] : 'run'
      void enterBench(bench ?? stage.value)
    },
    escape: () => {
      const there = document.querySelector<SVGElement>(onLine(job.place))
      if (there !== null) there.focus()
      else if (document.activeElement instanceof HTMLElement) document.activeElement.blur() // the line is folded
    },
    insert: (kind) => {
      if (job.design) act(inserted(job.design, job.place, kind))
    },
    split: () => {
      if (job.design) act(split(job.design, job.place))
    },
    shift: (by) => {
      if (job.design) act(shifted(job.design, job.place, by))
    },
    stretch: (metres) => {
      void nudge((way) => (job.design ? stretched(job.design, job.place, way) : []), metres, `stretch.${job.place}`)
    },
    remove: () => {
      if (job.design) act(removed(job.design, job.place))
    },
  }
}
