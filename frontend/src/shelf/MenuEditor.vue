<script setup lang="ts">
/** The menu of a device: its lines in their order, one open to be edited; as a file out and in. */
import { computed, ref } from 'vue'
import { posted, Refused, whyOf } from '../api/client'
import type { EntryError } from '../api/types'
import Button from '../ui/prime/button'
import { fieldOf } from '../ui/fields'
import MenuLineForm from './MenuLineForm.vue'
import { freshLine, moved, rangeText, valueText, type MenuLine } from './menuLines'

const lines = defineModel<MenuLine[]>({ required: true })
const props = defineProps<{ errors: EntryError[]; at: string }>()
const open = ref(-1)
const picker = ref<HTMLInputElement | null>(null)
const faults = ref<EntryError[]>([])
const trouble = ref('')
const MEANS = fieldOf('menu.means').choices ?? []
const meansOf = (line: MenuLine) => MEANS.find((item) => item.value === line.means)?.label ?? line.means ?? 'other'
const wrongAt = computed(() => {
  const found = new Map<number, string>()
  for (const error of props.errors) {
    const match = new RegExp(`^document\\.${props.at}\\.lines\\.(\\d+|[a-z][a-z0-9_]*)`).exec(error.path)
    const name = match?.[1]
    if (name === undefined) continue
    const index = /^\d+$/.test(name) ? Number(name) : lines.value.findIndex((line) => line.id === name)
    found.set(index, error.message)
  }
  return found
})
function put(index: number, line: MenuLine): void {
  lines.value = lines.value.map((item, at) => (at === index ? line : item))
}
function add(): void {
  lines.value = [...lines.value, freshLine(lines.value)]
  open.value = lines.value.length - 1
}
function drop(index: number): void {
  lines.value = lines.value.filter((_, at) => at !== index)
  open.value = -1
}
function move(index: number, by: number): void {
  lines.value = moved(lines.value, index, by)
  open.value = -1
}
async function takeFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  trouble.value = ''
  try {
    const response = await posted('/api/menu/read', file, 'application/octet-stream')
    const answer = (await response.json()) as { lines: MenuLine[]; errors: EntryError[] }
    faults.value = answer.errors
    if (answer.errors.length === 0) lines.value = answer.lines
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer. Choose the file again later.')
  }
}
async function giveFile(): Promise<void> {
  trouble.value = ''
  let response: Response
  try {
    response = await posted('/api/menu.csv', JSON.stringify({ lines: lines.value }), 'application/json')
  } catch (error) {
    const wrong = error instanceof Refused && error.problem.status < 500
    trouble.value = wrong
      ? 'Mend the lines first; store the item to see what is wrong with them.'
      : whyOf(error, 'The server does not answer. Ask for the file again later.')
    return
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = 'menu.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="menu">
    <ol>
      <li v-for="(line, row) in lines" :key="row" :class="{ open: open === row, wrong: wrongAt.has(row) }">
        <div class="line">
          <button type="button" class="plain" :aria-expanded="open === row" @click="open = open === row ? -1 : row">
            <b>{{ line.label }}</b> <span class="muted">{{ meansOf(line) }} · {{ rangeText(line) }}</span>
          </button>
          <span class="factory">{{ valueText(line.factory) }}</span>
          <button
            type="button"
            class="plain"
            :aria-label="`Move ${line.label} up`"
            :disabled="row === 0"
            @click="move(row, -1)"
          >
            ↑</button
          ><button
            type="button"
            class="plain"
            :aria-label="`Move ${line.label} down`"
            :disabled="row === lines.length - 1"
            @click="move(row, 1)"
          >
            ↓</button
          ><button type="button" class="plain" :aria-label="`Take ${line.label} out`" @click="drop(row)">✕</button>
        </div>
        <p v-if="wrongAt.has(row)" class="error" role="alert">{{ wrongAt.get(row) }}</p>
        <MenuLineForm v-if="open === row" :model-value="line" :others="lines" @update:model-value="put(row, $event)" />
      </li>
    </ol>
    <p v-if="lines.length === 0" class="muted">No menu noted: the sheet then goes by the ranges above.</p>
    <ul v-if="faults.length" class="faults" role="alert">
      <li v-for="(fault, row) in faults" :key="row">{{ fault.path }}, {{ fault.field }}: {{ fault.message }}</li>
    </ul>
    <p v-if="trouble" class="error" role="alert">{{ trouble }}</p>
    <div class="acts">
      <Button type="button" label="Add a line" size="small" severity="secondary" variant="outlined" @click="add" />
      <Button
        type="button"
        label="Lines from CSV"
        size="small"
        severity="secondary"
        variant="text"
        @click="picker?.click()"
      />
      <Button
        v-if="lines.length"
        type="button"
        label="Lines as CSV"
        size="small"
        severity="secondary"
        variant="text"
        @click="giveFile"
      />
      <input
        ref="picker"
        type="file"
        accept=".csv,text/csv"
        class="off"
        aria-label="Lines from CSV"
        tabindex="-1"
        @change="takeFile"
      />
    </div>
  </div>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid var(--hair);
}
li.open {
  background: var(--copper-wash);
}
li.wrong {
  border-left: 3px solid var(--madder);
}
.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 28px 28px 28px;
  align-items: center;
  gap: 4px;
}
.line > button {
  min-height: 28px;
  text-align: left;
}
.line > button + button,
.factory + button {
  text-align: center;
}
.line > button:disabled {
  opacity: 0.4;
}
.factory {
  font-weight: 600;
}
.faults {
  color: var(--madder);
}
.acts {
  display: flex;
  gap: 8px;
  margin-top: 6px;
}
.off {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
</style>
