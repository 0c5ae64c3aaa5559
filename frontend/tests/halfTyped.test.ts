/** Nothing typed is lost by going elsewhere: who takes words of his own keeps them half typed, or has a reason not to. */
import { expect, test } from 'vitest'
import { ref } from 'vue'
import { emptying } from '../src/ui/halfTyped'

const SOURCES = import.meta.glob<string>('../src/**/*.vue', { query: '?raw', import: 'default', eager: true })
const LEFT: Record<string, string> = {
  'house/CustomerPanel.vue customer': 'it erases: to be typed in one go',
  'house/CustomerPanel.vue again': 'it erases: to be typed in one go',
  'people/JoinView.vue name': 'the invitation fills it in',
  'people/JoinView.vue initials': 'asked once, with a password beside it',
  'people/JoinView.vue password': 'a password is kept nowhere',
  'people/MyPanel.vue password': 'a password is kept nowhere',
  'people/SignIn.vue name': 'asked with a password',
  'people/SignIn.vue password': 'a password is kept nowhere',
  'stages/survey/SumCard.vue entries': 'what differs from the job is kept beside it',
  'shelf/ItemDialog.vue number': 'kept with the whole item, see shelf/itemTyped.ts',
  'shelf/ShelfView.vue sought': 'a search: it changes nothing',
  'yard/YardView.vue typed': 'a search: it stands in the address',
}

function lost(source: string): string[] {
  const begun = [...source.matchAll(/const (\w+) = (?:ref|reactive)(?:<[^=]*>)?\((?:'[^']*'|\{)/g)].map(
    (found) => found[1],
  )
  const bound = [...source.matchAll(/<(?:input|textarea|InputText|Textarea)\b[^>]*?v-model(?:\.\w+)*="(\w+)/g)]
  const boxes = bound.filter((found) => !/type="(?:checkbox|radio)"/.test(found[0])).map((found) => found[1])
  return boxes.filter((name) => begun.includes(name)).map(String)
}

test('words typed outside of a design outlive another page and a reload', () => {
  const found = Object.entries(SOURCES).flatMap(([file, source]) =>
    lost(source).map((name) => `${file.replace('../src/', '')} ${name}`),
  )
  expect(found.filter((name) => !(name in LEFT))).toEqual([])
})

test('a field that would forget is found', () => {
  expect(lost(`const a = ref('')\n<template><input v-model="a" type="text" /></template>`)).toEqual(['a'])
  expect(lost(`const a = reactive({ b: '' })\n<InputText id="x" v-model="a.b" />`)).toEqual(['a'])
  expect(lost(`const a = useHalfTyped('a', '')\n<input v-model="a" />`)).toEqual([])
})

test('what was taken is emptied, what was typed meanwhile stays', () => {
  const entry = ref('first')
  const taken = emptying(entry)
  entry.value = 'first and more'
  taken()
  expect(entry.value).toBe('first and more')
  emptying(entry)()
  expect(entry.value).toBe('')
})
