<script setup lang="ts">
/** The keys. */
import Dialog from '../ui/prime/dialog'

const open = defineModel<boolean>('open', { required: true })
const KEYS: [string, string][] = [
  ['← →', 'walk the line'],
  ['↑ ↓', 'step the selected piece to the next size, rating or unit'],
  ['Enter', 'go into the fields of the selected piece'],
  ['Esc', 'back to the line'],
  ['Insert, d, j, b', 'add a cable, device, joint or branch after the selected piece'],
  ['s', 'split the selected cable with a joint'],
  ['Alt ← →', 'move the selected piece along its run'],
  [', .', 'shorten or lengthen the selected cable by 0.1 m; with Shift by 1 m'],
  ['Delete', 'take the selected piece out'],
  ['1 … 8', 'go to a stage'],
  ['c', 'next operating condition'],
  ['w', 'working of the figure in focus'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['road test: ← →', 'in the picture, walk through the day; with Shift by ten'],
  ['road test: ← → ↑ ↓', 'on the timeline, walk the blocks and change how long; Alt ← → moves, Delete takes out'],
  ['l', 'fold the level line to a strip, or unfold it'],
  ['f', 'fold the findings, or unfold them'],
  ['n', 'day or night'],
  ['?', 'this list'],
]
</script>

<template>
  <Dialog v-model:visible="open" modal dismissable-mask header="Keys" class="keys">
    <table>
      <tbody>
        <tr v-for="[key, what] in KEYS" :key="key">
          <th scope="row">
            <kbd>{{ key }}</kbd>
          </th>
          <td>{{ what }}</td>
        </tr>
      </tbody>
    </table>
  </Dialog>
</template>

<style scoped>
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  padding: 5px 20px 5px 0;
  white-space: nowrap;
}
td {
  padding: 5px 0;
}
kbd {
  font: inherit;
  font-weight: 600;
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 1px 7px;
  background: var(--field);
}
</style>
