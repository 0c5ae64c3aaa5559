<script setup lang="ts">
/** Options of a quote side by side: price, what it does, what it will not do, what it is made of. */
import type { Quote } from '../../api/types'
import { dateOf, fixed, said } from '../../ui/locale'
import { inHouse, money } from '../../ui/format'
import { unitSaid } from '../../ui/units'

defineProps<{ quote: Quote }>()
</script>

<template>
  <div class="columns" :style="{ '--many': quote.options.length }">
    <article v-for="option in quote.options" :key="option.name" :data-option="option.name">
      <h3>{{ option.name }}</h3>
      <p class="muted">{{ option.unit }}</p>
      <p v-if="option.refused" class="stop" role="note">■ {{ option.refused }}</p>
      <p class="price" data-total>{{ money(option.total, 2) }}</p>
      <p class="muted">
        with {{ fixed(quote.tax_percent, 0) }}&nbsp;% tax of {{ money(option.tax, 2) }}; before it
        {{ money(option.net, 2) }}
      </p>
      <p v-if="option.unpriced?.length" class="caution">
        ▲ No price is noted for these, and they are not in it: {{ [...new Set(option.unpriced)].join(', ') }}
      </p>
      <ul class="does">
        <li v-for="line in option.does" :key="line">✓ {{ said(line) }}</li>
      </ul>
      <template v-if="option.will_not.length">
        <h4>What it will not do</h4>
        <ul>
          <li v-for="line in option.will_not" :key="line">– {{ said(line) }}</li>
        </ul>
      </template>
      <details>
        <summary>Parts {{ money(option.parts_total, 2) }}</summary>
        <table>
          <tbody>
            <tr v-for="(line, at) in option.parts" :key="at">
              <th scope="row">{{ line.what }}</th>
              <td>
                {{ inHouse(line.count, line.unit, line.unit === 'm' ? 1 : 0) }}
                {{ line.unit === 'pieces' && line.count === 1 ? 'piece' : unitSaid(line.unit) }}
              </td>
              <td>{{ money(line.sum, 2) }}</td>
            </tr>
          </tbody>
        </table>
      </details>
      <details>
        <summary>Work {{ fixed(option.hours, 2) }}&nbsp;h, {{ money(option.labour_total, 2) }}</summary>
        <table>
          <tbody>
            <tr v-for="line in option.work" :key="line.what">
              <th scope="row">
                {{ line.what }} <small class="muted">{{ said(line.detail) }}</small>
              </th>
              <td>{{ fixed(line.count, 2) }}&nbsp;h</td>
              <td>{{ money(line.sum, 2) }}</td>
            </tr>
          </tbody>
        </table>
      </details>
    </article>
  </div>
  <p class="muted">
    Not included: {{ quote.excluded.join('; ') || 'nothing named' }}. Valid until {{ dateOf(quote.valid_until) }}.
  </p>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(var(--many), minmax(0, 1fr));
  gap: 16px;
  margin-bottom: 10px;
}
article + article {
  border-left: 1px solid var(--hair);
  padding-left: 16px;
}
.price {
  font-size: var(--answer);
  font-weight: 600;
  color: var(--copper);
  margin-top: 6px;
}
h4 {
  margin: 8px 0 2px;
  font-size: var(--text);
}
ul {
  list-style: none;
  padding: 0;
  margin: 6px 0;
  line-height: 1.4;
}
.does {
  color: var(--verdigris);
}
summary {
  min-height: 28px;
  cursor: pointer;
}
th {
  text-align: left;
  font-weight: 400;
}
td {
  text-align: right;
  white-space: nowrap;
}
@media (max-width: 700px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  article + article {
    border-left: 0;
    border-top: 1px solid var(--hair);
    padding: 12px 0 0;
  }
  summary {
    min-height: 44px;
  }
}
</style>
