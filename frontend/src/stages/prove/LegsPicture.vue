<script setup lang="ts">
/** Each leg of the runs: designed faint, measured strong with its uncertainty; milliohms too many are hatched. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Proof } from '../../api/types'
import { fixed, said } from '../../ui/locale'
import { linear } from '../settings/curves'

const props = defineProps<{ legs: Proof['legs'] }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const LEFT = 8
const most = computed(() =>
  Math.max(1, ...props.legs.map((leg) => Math.max(leg.designed_mohm, (leg.found_mohm ?? 0) + (leg.spread_mohm ?? 0)))),
)
const x = computed(() => linear([0, most.value * 1.08], [LEFT, Math.max(LEFT + 80, width.value - 74)]))
</script>

<template>
  <div ref="box" class="legs">
    <article v-for="leg in legs" :key="leg.leg" :data-leg="leg.leg" :class="{ bad: leg.bad }">
      <p>
        {{ leg.words }}
        <span class="muted">{{
          leg.designed_mohm > 0 ? `designed ${fixed(leg.designed_mohm, 1)} mΩ` : 'not laid'
        }}</span>
      </p>
      <svg v-if="width > 0" :width="width" height="26" aria-hidden="true">
        <defs>
          <pattern id="too-many" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V5" class="hatch" />
          </pattern>
        </defs>
        <rect
          :x="LEFT"
          y="4"
          :width="x(leg.designed_mohm) - LEFT"
          height="7"
          :class="leg.leg.startsWith('supply') ? 'supply' : 'delivery'"
          class="designed"
        />
        <template v-if="leg.found_mohm !== null">
          <rect
            :x="LEFT"
            y="13"
            :width="Math.max(0, x(Math.max(0, leg.found_mohm)) - LEFT)"
            height="8"
            :class="leg.leg.startsWith('supply') ? 'supply' : 'delivery'"
          />
          <rect
            v-if="leg.bad"
            :x="x(leg.designed_mohm)"
            y="11"
            :width="Math.max(0, x(leg.found_mohm) - x(leg.designed_mohm))"
            height="12"
            class="over"
          />
          <path
            :d="`M${x(Math.max(0, leg.found_mohm - (leg.spread_mohm ?? 0)))} 17H${x(leg.found_mohm + (leg.spread_mohm ?? 0))}`"
            class="spread"
          />
          <text :x="x(leg.found_mohm + (leg.spread_mohm ?? 0)) + 6" y="21">{{ fixed(leg.found_mohm, 1) }}&nbsp;mΩ</text>
        </template>
        <text v-else :x="LEFT" y="22" class="none">not measured</text>
      </svg>
      <p v-if="leg.bad" class="stop">■ {{ said(leg.text) }}</p>
    </article>
  </div>
</template>

<style scoped>
.legs {
  display: grid;
  gap: 8px;
}
p {
  font-size: var(--text);
  line-height: 1.35;
}
text {
  font-size: 12px;
  fill: var(--ink);
  font-family: var(--narrow);
  font-weight: 600;
}
.none {
  fill: var(--muted);
  font-weight: 400;
}
.supply {
  fill: var(--copper);
}
.delivery {
  fill: var(--teal);
}
.designed {
  opacity: 0.35;
}
.over {
  fill: url('#too-many');
  stroke: var(--madder);
}
.hatch {
  stroke: var(--madder);
  stroke-width: 2;
}
.spread {
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
