<script setup lang="ts">
/** One's own: another device that joins by a code, another password. */
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import type { components } from '../api/schema.gen'
import { me } from '../api/signedIn'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'
import CodeDialog from './CodeDialog.vue'

const shown = ref<components['schemas']['InvitationOut'] | null>(null)
const password = ref('')
const told = ref('')
const trouble = ref('')
async function tried(work: () => Promise<void>): Promise<void> {
  told.value = trouble.value = ''
  try {
    await work()
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; nothing was changed.')
  }
}
const join = () =>
  tried(async () => {
    shown.value = await answered(client.POST('/api/me/code'))
  })
const change = () =>
  tried(async () => {
    await answered(client.PUT('/api/me/password', { body: { password: password.value } }))
    password.value = ''
    told.value = 'The new password holds; every other device of yours is signed out.'
  })
</script>

<template>
  <section class="panel stacked" aria-label="You">
    <div class="bench-head"><h2>You</h2></div>
    <p>
      Signed in as <b>{{ me?.name }}</b>.
      <button type="button" class="link" data-my-device @click="join">Join another device</button>
    </p>
    <form class="row" @submit.prevent="change">
      <label for="my-password">New password</label>
      <InputText
        id="my-password"
        v-model="password"
        type="password"
        size="small"
        autocomplete="new-password"
        maxlength="200"
      />
      <Button
        type="submit"
        label="Change it"
        size="small"
        severity="secondary"
        variant="outlined"
        :disabled="!password"
      />
    </form>
    <p v-if="told" class="good" role="status" data-my-told>✓ {{ told }}</p>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <CodeDialog v-model="shown" />
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
@media (max-width: 700px) {
  .link {
    min-height: 44px;
  }
}
</style>
