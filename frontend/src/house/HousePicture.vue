<script setup lang="ts">
/** The workshop's mark as papers show it: chosen as a file, drawn anew by the server, taken out again. */
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import Button from '../ui/prime/button'

const picture = defineModel<string>({ required: true })
const input = ref<HTMLInputElement | null>(null)
const trouble = ref('')
const busy = ref(false)
async function chosen(): Promise<void> {
  const file = input.value?.files?.[0]
  if (!file) return
  busy.value = true
  trouble.value = ''
  try {
    const sent = client.POST('/api/house/picture', {
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { 'Content-Type': 'image/png' },
    })
    picture.value = (await answered(sent)).picture
  } catch (refused) {
    trouble.value = whyOf(refused, 'The server does not answer. Choose the picture again later.')
  } finally {
    busy.value = false
    if (input.value) input.value.value = ''
  }
}
</script>

<template>
  <div class="pair" data-house="workshop.picture">
    <span id="l-picture">Picture on papers</span>
    <div class="held" role="group" aria-labelledby="l-picture">
      <img v-if="picture" :src="`data:image/png;base64,${picture}`" alt="The workshop's mark" />
      <input ref="input" type="file" accept="image/png,image/jpeg,image/webp" hidden data-picture @change="chosen" />
      <Button
        :label="picture ? 'Choose another' : 'Choose a picture'"
        size="small"
        severity="secondary"
        variant="outlined"
        :loading="busy"
        @click="input?.click()"
      />
      <button v-if="picture" type="button" class="link" data-picture-out @click="picture = ''">take it out</button>
    </div>
    <p v-if="trouble" class="error" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  gap: 2px;
  font-size: var(--text);
  color: var(--muted);
}
.held {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
img {
  max-width: 120px;
  max-height: 40px;
  background: #fff;
  border: 1px solid var(--hair);
}
</style>
