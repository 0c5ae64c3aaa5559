<script setup lang="ts">
/** Joining by a one-time code: another device of somebody's, or somebody new with a name and a password. */
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client, whyOf } from '../api/client'
import { asks, me } from '../api/signedIn'
import GateForm from './GateForm.vue'
import Button from '../ui/prime/button'
import InputText from '../ui/prime/inputtext'

defineProps<{ night: boolean }>()
defineEmits<{ night: [] }>()
const router = useRouter()
const code = location.hash.slice(1)
const fresh = ref<boolean | null>(null)
const name = ref('')
const initials = ref('')
const password = ref('')
const trouble = ref('')
const busy = ref(false)
const words = (error: unknown) => whyOf(error, 'The server does not answer. Try again.')
onMounted(async () => {
  try {
    const found = await answered(client.POST('/api/join/look', { body: { code } }))
    fresh.value = found.fresh
    name.value = found.name
  } catch (error) {
    trouble.value = words(error)
  }
})
async function join(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    const body = { code, name: name.value, initials: initials.value, password: password.value }
    me.value = (await answered(client.POST('/api/join', { body }))).person
    if (asks) await router.replace('/')
    else location.replace('/')
  } catch (error) {
    trouble.value = words(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <GateForm name="Join" data-join @go="join">
    <template v-if="fresh === false">
      <p>
        This device will be signed in as <b>{{ name }}</b>.
      </p>
    </template>
    <template v-else-if="fresh">
      <p>Say what you are called here, and choose a password: ten characters or more; a few words in a row are good.</p>
      <label for="join-name">Name</label>
      <InputText id="join-name" v-model="name" autocomplete="username" maxlength="80" />
      <label for="join-initials">Initials, for readings and ticks</label>
      <InputText id="join-initials" v-model="initials" autocomplete="off" maxlength="12" />
      <label for="join-password">Password</label>
      <InputText id="join-password" v-model="password" type="password" autocomplete="new-password" maxlength="200" />
    </template>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
    <Button v-if="fresh !== null" type="submit" label="Join" :loading="busy" />
  </GateForm>
</template>
