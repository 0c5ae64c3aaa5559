<script setup lang="ts">
/** The sheet as a numbered strip in menu order, what is left as it is, and what a reset would lose. */
import { computed } from 'vue'
import type { Sheet } from '../../api/types'
import { useJob } from '../../job/store'
import TickField from '../../ui/TickField.vue'
import { asThere, day, said } from '../../ui/locale'
import { useBuildLog } from '../build/buildLog'
import { initials, useKeyed } from './keyed'
import SheetRow from './SheetRow.vue'
import { counted } from '../../ui/counted'

const props = withDefaults(defineProps<{ sheet: Sheet; name?: string; place?: string; step: string }>(), {
  name: 'the unit',
  place: '',
})
const job = useJob()
const { of } = useKeyed()
const log = useBuildLog()
/** The step of the work that keys all of it, once it is ticked. */
const whole = computed(() => {
  const step = log.of('Build', props.step)
  if (step?.state !== 'done') return ''
  return [...step.by, step.at ? day(new Date(step.at)) : ''].filter(Boolean).join(', ')
})
const next = computed(() => {
  if (whole.value) return undefined
  const waiting = props.sheet.lines.find((line) => of(line.key)?.keyed !== true)
  const unread = props.sheet.lines.find((line) => line.do === 'key' && line.last && !of(line.key)?.seen)
  return (waiting ?? unread)?.key
})
const keyed = computed(() => props.sheet.lines.filter((line) => of(line.key)?.keyed).length)
</script>

<template>
  <section class="panel sheet" aria-label="To key in">
    <div class="bench-head">
      <h2>To key into {{ name }}</h2>
      <span v-if="whole" class="aside good" data-whole
        >✓ all of it ticked in <RouterLink :to="`/job/${job.id}/build`">Build</RouterLink>, {{ whole }}</span
      >
      <span v-else class="aside">{{ sheet.text }} · {{ keyed }} of {{ sheet.lines.length }} done</span>
    </div>
    <p class="enter muted">
      <span v-if="sheet.generic"
        >Its settings record is not on the shelf: these are its ranges, factory values not known.
      </span>
      {{ sheet.enter }} {{ sheet.save && !sheet.lines.some((line) => line.do === 'save') ? sheet.save : '' }}
    </p>
    <ol class="lines">
      <SheetRow
        v-for="(line, at) in sheet.lines"
        :key="line.key"
        :line="line"
        :number="at + 1"
        :open="line.key === next"
      />
    </ol>
    <ul v-if="sheet.misses.length" class="misses">
      <li v-for="miss in sheet.misses" :key="miss" class="caution">▲ {{ said(miss) }}</li>
    </ul>
    <details v-if="sheet.leave.length">
      <summary>Leave as they are: {{ counted(sheet.leave.length, 'line') }}</summary>
      <dl>
        <div v-for="item in sheet.leave" :key="item.line">
          <dt>{{ item.label }}</dt>
          <dd>{{ asThere(item.value) }}</dd>
          <dd class="muted">{{ item.why }}</dd>
        </div>
      </dl>
    </details>
    <details v-if="sheet.absent.length">
      <summary>Do nothing here, or are not shown: {{ sheet.absent.length }}</summary>
      <dl>
        <div v-for="item in sheet.absent" :key="item.line">
          <dt>{{ item.label }}</dt>
          <dd>{{ asThere(item.value) }}</dd>
          <dd class="muted">{{ item.why }}</dd>
        </div>
      </dl>
    </details>
    <p v-if="sheet.reset_loses.length" class="reset">
      <b class="caution">▲ A reset of this unit loses: {{ sheet.reset_loses.join(', ') }}.</b><br />{{
        sheet.remote_keeps
      }}
    </p>
    <div class="foot">
      <label class="initials"
        >Your initials <input v-model="initials" type="text" maxlength="12" autocomplete="off"
      /></label>
      <TickField v-if="place === ''" path="access_code_changed" />
      <a v-if="place === '' && job.id" :href="`/api/jobs/${job.id}/settings.pdf`" class="link" download
        >Print the sheet</a
      >
    </div>
  </section>
</template>

<style scoped>
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.enter {
  margin: 0 0 4px;
}
.misses {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
details {
  margin: 6px 0;
  font-size: var(--text);
}
summary {
  cursor: pointer;
  min-height: 24px;
}
dl {
  margin: 2px 0 0;
}
dl div {
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) auto minmax(0, 1.4fr);
  gap: 8px;
  padding: 1px 0;
}
dd {
  margin: 0;
}
.reset {
  margin: 8px 0;
  line-height: 1.4;
  font-size: var(--text);
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  align-items: center;
}
.initials input {
  width: 64px;
  min-height: 28px;
  margin-left: 4px;
}
.foot .link {
  min-height: 28px;
  display: inline-flex;
  align-items: center;
}
@media (max-width: 700px) {
  .foot .link {
    min-height: 44px;
  }
  summary,
  .initials input {
    min-height: 44px;
  }
}
</style>
