<script setup lang="ts">
/** A one-time address, as a picture for a phone's camera and in letters. */
import Dialog from '../ui/prime/dialog'
import type { components } from '../api/schema.gen'
import { computed } from 'vue'

const shown = defineModel<components['schemas']['InvitationOut'] | null>({ required: true })
const picture = computed(() => `data:image/svg+xml,${encodeURIComponent(withName(shown.value?.svg ?? ''))}`)
const withName = (svg: string) => svg.replace('<svg ', '<svg xmlns="http://www.w3.org/2000/svg" ')
</script>

<template>
  <Dialog
    :visible="shown !== null"
    modal
    header="Join by this address, once"
    :style="{ width: 'min(420px, 96vw)' }"
    @update:visible="shown = null"
  >
    <div class="code">
      <img :src="picture" alt="The address as a QR code" width="280" height="280" />
      <p>Point the phone's camera at it, or type the address. Whoever uses it is in: show it to nobody else.</p>
      <input type="text" readonly :value="shown?.address" aria-label="Address" data-join-address />
    </div>
  </Dialog>
</template>

<style scoped>
.code {
  display: grid;
  gap: 10px;
  justify-items: center;
}
img {
  image-rendering: pixelated;
  max-width: 100%;
}
input {
  width: 100%;
  min-height: 30px;
  background: var(--field);
  border: 1px solid var(--edge);
  border-radius: 3px;
  padding: 2px 6px;
}
</style>
