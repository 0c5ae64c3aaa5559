<script setup lang="ts">
/** A contactor closed by time in the unit's place: its parts, a drive's charge beside the unit's, what speaks against it. */
import { answered, client } from '../../api/client'
import { useDerived } from '../../api/derived'
import AnswerState from '../../ui/AnswerState.vue'
import { quantity } from '../../ui/format'
import { tied } from '../../ui/tied'
import { entered } from '../../ui/locale'

const { data, pending, trouble } = useDerived('managed-link', (body, signal) =>
  answered(client.POST('/api/managed-link', { body, signal })),
)
const GLYPH = { stop: '■', caution: '▲', note: '·' }
</script>

<template>
  <section class="panel" aria-label="A managed link instead">
    <div class="bench-head">
      <h2>A managed link instead</h2>
      <span class="aside">closed by time, no unit</span>
    </div>
    <AnswerState :pending="pending" :trouble="trouble" doing="Working it out…" />
    <template v-if="data?.link">
      <p>
        <b :class="data.link.verdict === 'possible' ? 'caution' : 'grave'">{{
          data.link.verdict === 'possible' ? '▲ Possible here' : '■ Not in this vehicle'
        }}</b>: {{ quantity(data.link.charged_ah, 'Ah') }} in {{ entered(data.link.drive_h) }}&nbsp;h from half
        full<template v-if="data.link.unit_ah !== null">, this unit {{ quantity(data.link.unit_ah, 'Ah') }}</template
        >.
      </p>
      <dl>
        <dt>Closed, open</dt>
        <dd>
          <template v-if="data.link.off_min > 0"
            >{{ entered(data.link.on_min) }}&nbsp;min, {{ entered(data.link.off_min) }}&nbsp;min</template
          ><template v-else>closed throughout</template>
        </dd>
        <dt>First moment, then, average</dt>
        <dd>
          {{ quantity(data.link.first_a, 'A') }}, {{ quantity(data.link.held_a, 'A') }},
          {{ quantity(data.link.mean_a, 'A') }}
        </dd>
        <dt>Contactor</dt>
        <dd>{{ data.link.contact_a ? `${entered(data.link.contact_a)} A continuous` : 'none is large enough' }}</dd>
        <dt>Device at either end</dt>
        <dd>{{ data.link.device || 'none fits' }}</dd>
        <dt>Cable</dt>
        <dd>
          {{ data.link.cable ? `${data.link.cable}, ${quantity(data.link.length_m, 'm')} each way` : 'none fits' }}
        </dd>
      </dl>
      <ul>
        <li v-for="reason in data.link.reasons" :key="reason.text" :class="reason.level">
          <span aria-hidden="true">{{ GLYPH[reason.level] }}</span> {{ tied(reason.text) }}
        </li>
      </ul>
    </template>
    <p v-else-if="data" class="muted">The batteries differ in nominal voltage: no link can join them.</p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 6px 0;
}
dt {
  color: var(--muted);
}
dd {
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.stop span,
.grave {
  color: var(--madder);
}
.caution span {
  color: var(--ochre);
}
li.caution {
  color: inherit;
}
</style>
