<script setup lang="ts">
/** Add, edit or clone one thing on the shelf. What is typed stays until it is stored or given up on purpose. */
import { useQuery } from '@tanstack/vue-query'
import Button from '../ui/prime/button'
import Dialog from '../ui/prime/dialog'
import InputText from '../ui/prime/inputtext'
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client, Refused } from '../api/client'
import type { EntryError, ShelfItem } from '../api/types'
import { documentOf, entriesOf } from './entries'
import FormEntry from './FormEntry.vue'
import { keepTyped, keptTyped } from './itemTyped'
import { getAt, setAt } from '../job/path'
import MenuEditor from './MenuEditor.vue'
import type { MenuLine } from './menuLines'
import { MENU_AT, type Kind } from './kinds'
import { focusFault } from '../ui/focus'
import { unitSaid } from '../ui/units'

const props = defineProps<{ kind: Kind; one: string; item: ShelfItem | null; clone: boolean }>()
const open = defineModel<boolean>('open', { required: true })
const emit = defineEmits<{ stored: [] }>()
const { data } = useQuery({
  queryKey: ['form', computed(() => props.kind)],
  queryFn: () => answered(client.GET('/api/shelf/{name}/form', { params: { path: { name: props.kind } } })),
  staleTime: Infinity,
})
const fields = computed(() => data.value?.fields ?? [])
const groups = computed(() => [...new Set(fields.value.map((field) => field.group))])
const entries = ref<Record<string, unknown>>({})
const number = ref('')
const errors = ref<EntryError[]>([])
const trouble = ref('')
const storing = ref(false)
const asking = ref(false)
const menuAt = computed(() => MENU_AT[props.kind] ?? '')
const MENU = 'menu lines' // beside the entries of the form
const menu = computed({
  get: () => (entries.value[MENU] ?? []) as MenuLine[],
  set: (lines) => {
    entries.value = { ...entries.value, [MENU]: lines }
  },
})
/** The document with its menu; none where nothing of it is noted. */
function withMenu(document: Record<string, unknown>): Record<string, unknown> {
  if (menuAt.value === '') return document
  const texts = [entries.value[`${menuAt.value}.enter`], entries.value[`${menuAt.value}.save`]]
  const bare = menu.value.length === 0 && texts.every((text) => (text ?? '') === '')
  if (bare) return setAt(document, menuAt.value, null)
  return setAt(document, `${menuAt.value}.lines`, menu.value)
}
let begun = ''
const fresh = computed(() => props.item === null || props.clone)

watch(
  [() => open.value, fields],
  () => {
    if (!open.value || fields.value.length === 0) return
    entries.value = entriesOf(props.item?.document, fields.value)
    if (menuAt.value !== '') entries.value[MENU] = getAt(props.item?.document, `${menuAt.value}.lines`) ?? []
    number.value = props.item === null ? '' : props.clone ? `${props.item.id}-copy` : props.item.id
    errors.value = []
    trouble.value = ''
    asking.value = false
    begun = JSON.stringify([number.value, entries.value])
    const kept = keptTyped(props.kind)
    if (kept === null || kept.of !== (props.item?.id ?? '') || kept.clone !== props.clone) return
    number.value = kept.number
    entries.value = { ...entries.value, ...kept.entries }
  },
  { immediate: true },
)

const dirty = () => begun !== JSON.stringify([number.value, entries.value])
watch(
  [number, entries],
  () => {
    if (!open.value || !dirty()) return
    const of = props.item?.id ?? ''
    keepTyped({ kind: props.kind, of, clone: props.clone, number: number.value, entries: entries.value })
  },
  { deep: true },
)
function close(): void {
  if (dirty() && !asking.value) asking.value = true
  else discard()
}
function discard(): void {
  keepTyped(null)
  open.value = false
}
const errorOf = (path: string) => errors.value.find((item) => item.path === `document.${path}`)?.message
const loose = computed(() =>
  errors.value.filter((item) => !fields.value.some((field) => item.path === `document.${field.path}`)),
)
async function store(): Promise<void> {
  const at = document.activeElement as HTMLElement | null
  storing.value = true // meanwhile the form takes nothing: it would be in neither
  errors.value = []
  trouble.value = ''
  try {
    const based_on = fresh.value ? null : (props.item?.version ?? null)
    await answered(
      client.PUT('/api/shelf/{name}/{number}', {
        params: { path: { name: props.kind, number: number.value.trim() || '-' } },
        body: { based_on, document: withMenu(documentOf(props.item?.document ?? {}, fields.value, entries.value)) },
      }),
    )
    discard()
    emit('stored')
  } catch (error) {
    if (error instanceof Refused) {
      errors.value = error.problem.errors ?? []
      trouble.value = errors.value.length ? '' : error.problem.detail
    } else trouble.value = 'The server does not answer. What you typed is still here; store it again later.'
  } finally {
    storing.value = false
    if (open.value) void nextTick(() => focusFault('#item-form', at))
  }
}
</script>

<template>
  <Dialog
    :visible="open"
    modal
    :header="fresh ? (clone ? `Clone ${item?.id}` : `New ${one}`) : `Edit ${item?.id}`"
    class="item-dialog"
    :style="{ width: 'min(880px, 96vw)' }"
    @update:visible="close"
  >
    <form id="item-form" :inert="storing" @submit.prevent="store">
      <div class="pair lead">
        <label for="shelf-number">Shelf number</label
        ><InputText
          id="shelf-number"
          v-model="number"
          size="small"
          :disabled="!fresh"
          maxlength="80"
          autocomplete="off"
          :invalid="!!errorOf('id')"
        />
        <p v-if="errorOf('id')" class="error" role="alert">{{ errorOf('id') }}</p>
      </div>
      <p v-for="wrong in loose" :key="wrong.path" class="error" role="alert">■ {{ wrong.message }}</p>
      <p v-if="trouble" class="error" role="alert">■ {{ trouble }}</p>
      <fieldset v-for="group in groups" :key="group">
        <legend v-if="group">{{ group }}</legend>
        <div class="grid">
          <div
            v-for="field in fields.filter((one_) => one_.group === group && one_.path !== 'id')"
            :key="field.path"
            class="pair"
            :class="field.kind"
            :data-field="field.path"
          >
            <label :id="`l-${field.path}`" :for="`f-${field.path}`"
              >{{ field.label }}<small v-if="field.unit"> {{ unitSaid(field.unit) }}</small></label
            >
            <FormEntry v-model="entries[field.path]" :field="field" :invalid="!!errorOf(field.path)" />
            <p v-if="errorOf(field.path)" class="error" role="alert">{{ errorOf(field.path) }}</p>
          </div>
        </div>
      </fieldset>
      <fieldset v-if="menuAt">
        <legend>Its menu, line by line</legend>
        <MenuEditor v-model="menu" :errors="errors" :at="menuAt" />
      </fieldset>
      <p v-if="kind === 'chargers'" class="muted small">
        Take every figure from the unit's own sheet and manual, in your own words. Jobs keep the copy they were designed
        with.
      </p>
    </form>
    <template #footer>
      <template v-if="asking"
        ><span class="caution"><b>▲ What you typed is not stored.</b></span
        ><Button
          type="button"
          label="Discard changes"
          size="small"
          severity="secondary"
          variant="outlined"
          @click="discard" /><Button
          type="button"
          label="Keep editing"
          size="small"
          severity="secondary"
          @click="asking = false"
      /></template>
      <Button v-else type="button" label="Close" size="small" severity="secondary" variant="text" @click="close" />
      <Button type="submit" form="item-form" label="Store" size="small" :loading="storing" />
    </template>
  </Dialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 8px;
  font-size: var(--text);
}
fieldset {
  border: 0;
  border-top: 1px solid var(--hair);
  padding: 6px 0 0;
  margin: 0;
}
legend {
  font-weight: 600;
  padding-right: 8px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(236px, 1fr));
  gap: 4px 18px;
}
.pair {
  display: grid;
  grid-template-columns: minmax(90px, 1fr) minmax(96px, 116px);
  gap: 2px 8px;
  align-items: center;
}
.pair > label {
  color: var(--muted);
  line-height: 1.15;
}
.pair:is(.texts, .numbers, .choices) {
  grid-template-columns: 1fr;
}
.pair small {
  margin-left: 4px;
}
.lead {
  grid-template-columns: 130px 240px;
}
.pair.text {
  grid-template-columns: minmax(70px, 0.8fr) minmax(120px, 1.4fr);
}
.pair :deep(input[type='text']),
.pair :deep(.p-select),
.pair :deep(textarea) {
  width: 100%;
  min-width: 0;
}
.small {
  font-size: var(--text);
}
</style>
