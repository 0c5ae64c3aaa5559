<script setup lang="ts">
/** One line of a menu, as its manual has it. */
import { computed } from 'vue'
import InputText from '../ui/prime/inputtext'
import Select from '../ui/prime/select'
import Textarea from '../ui/prime/textarea'
import { fieldOf } from '../ui/fields'
import { choicesFrom, choicesText, valueFrom, valueText, type MenuLine } from './menuLines'
import ValueEntry from './ValueEntry.vue'

const line = defineModel<MenuLine>({ required: true })
const props = defineProps<{ others: readonly MenuLine[] }>()
const field = (name: string) => fieldOf(`menu.${name}`)
const set = (change: Partial<Record<keyof MenuLine, unknown>>) => {
  line.value = { ...line.value, ...change } as MenuLine
}
const NUMBERS = ['from_value', 'to_value', 'step'] as const
const TICKS = [
  'hidden',
  'acts_hidden',
  'latches',
  'needs_saving',
  'restarts',
  'at_power_up',
  'per_block',
  'lost_at_reset',
  'kept_without_remote',
] as const
const chosen = computed(() => line.value.kind === 'choice' || line.value.kind === 'coded')
const parents = computed(() => [
  { value: '', label: 'always' },
  ...props.others
    .filter((item) => item.id !== line.value.id && item.kind !== 'number')
    .map((item) => ({ value: item.id, label: item.label })),
])
const list = (typed: string) =>
  typed
    .split(/[;\n]/)
    .map((part) => part.trim())
    .filter(Boolean)
const onByDefault = new Set<string>(['acts_hidden', 'lost_at_reset', 'kept_without_remote'])
const ticked = (name: (typeof TICKS)[number]) => (line.value[name] ?? onByDefault.has(name)) === true
</script>

<template>
  <div class="form">
    <label
      >{{ field('id').label }}<InputText size="small" :model-value="line.id" @update:model-value="set({ id: $event })"
    /></label>
    <label
      >{{ field('label').label
      }}<InputText size="small" :model-value="line.label" @update:model-value="set({ label: $event })"
    /></label>
    <label
      >{{ field('means').label
      }}<Select
        size="small"
        :model-value="line.means"
        :options="field('means').choices ?? []"
        option-label="label"
        option-value="value"
        :aria-label="field('means').label"
        @update:model-value="set({ means: $event })"
    /></label>
    <label
      >{{ field('kind').label
      }}<Select
        size="small"
        :model-value="line.kind"
        :options="field('kind').choices ?? []"
        option-label="label"
        option-value="value"
        :aria-label="field('kind').label"
        @update:model-value="set({ kind: $event, factory: $event === 'action' ? null : line.factory })"
    /></label>
    <template v-if="line.kind === 'number'">
      <label
        >{{ field('unit').label
        }}<Select
          size="small"
          :model-value="line.unit ?? ''"
          :options="field('unit').choices ?? []"
          option-label="label"
          option-value="value"
          :aria-label="field('unit').label"
          @update:model-value="set({ unit: $event })"
      /></label>
      <label v-for="name in NUMBERS" :key="name"
        >{{ field(name).label
        }}<ValueEntry inputmode="decimal" :model-value="line[name]" @update:model-value="set({ [name]: $event })"
      /></label>
      <label
        >{{ field('steps').label
        }}<InputText
          size="small"
          placeholder="10; 20; 30"
          :model-value="(line.steps ?? []).map(valueText).join('; ')"
          @change="set({ steps: list(($event.target as HTMLInputElement).value).map(valueFrom) })"
      /></label>
    </template>
    <label v-if="chosen" class="wide"
      >Choices, one a line<small class="muted"> label = stands for &gt; line: value, line: value</small
      ><Textarea
        rows="4"
        :model-value="choicesText(line)"
        @change="set({ options: choicesFrom(($event.target as HTMLTextAreaElement).value) })"
    /></label>
    <label v-if="line.kind !== 'action'"
      >{{ 'Factory value' }}<ValueEntry :model-value="line.factory" @update:model-value="set({ factory: $event })"
    /></label>
    <label
      >{{ field('shown_line').label
      }}<Select
        size="small"
        :model-value="line.shown_line ?? ''"
        :options="parents"
        option-label="label"
        option-value="value"
        :aria-label="field('shown_line').label"
        @update:model-value="set({ shown_line: $event, shown_values: $event ? line.shown_values : [] })"
    /></label>
    <label v-if="line.shown_line"
      >{{ field('shown_values').label
      }}<InputText
        size="small"
        placeholder="lead; wet"
        :model-value="(line.shown_values ?? []).map(valueText).join('; ')"
        @change="set({ shown_values: list(($event.target as HTMLInputElement).value) })"
    /></label>
    <label class="wide"
      >{{ field('note').label
      }}<InputText size="small" :model-value="line.note" @update:model-value="set({ note: $event })"
    /></label>
    <div class="ticks wide">
      <label v-for="name in TICKS" :key="name"
        ><input
          type="checkbox"
          :checked="ticked(name)"
          @change="set({ [name]: ($event.target as HTMLInputElement).checked })"
        />
        {{ field(name).label }}</label
      >
    </div>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 12px;
  padding: 6px 4px 10px;
}
.form > label {
  display: grid;
  gap: 2px;
  color: var(--muted);
}
.wide {
  grid-column: 1 / -1;
}
.form :deep(input[type='text']),
.form :deep(.p-select),
.form :deep(textarea) {
  width: 100%;
  min-width: 0;
}
.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.ticks input {
  width: 18px;
  height: 18px;
  accent-color: var(--copper);
  vertical-align: -4px;
}
</style>
