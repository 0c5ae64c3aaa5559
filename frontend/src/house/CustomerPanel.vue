<script setup lang="ts">
/** Everything of one customer: taken along as one file, or erased for good. */
import { ref } from 'vue'
import { answered, client, whyOf } from '../api/client'
import InputText from '../ui/prime/inputtext'
import Button from '../ui/prime/button'
import { useQueryClient } from '@tanstack/vue-query'
import { once } from '../ui/once'
import { counted } from '../ui/counted'

const queries = useQueryClient()
const customer = ref('')
const again = ref('')
const erasing = ref(false)
const told = ref('')
const trouble = ref('')
const [erase] = once(async () => {
  told.value = trouble.value = ''
  try {
    const done = await answered(
      client.POST('/api/customers/erase', { body: { customer: customer.value, again: again.value } }),
    )
    told.value = `${counted(done.jobs, 'job is', 'jobs are')} erased. Backups still hold them.`
    erasing.value = false
    again.value = ''
    await queries.invalidateQueries({ queryKey: ['yard'] })
  } catch (error) {
    trouble.value = whyOf(error, 'The server does not answer; nothing was erased.')
  }
})
</script>

<template>
  <section class="panel customer" aria-label="A customer's data">
    <div class="bench-head"><h2>A customer's data</h2></div>
    <div class="row">
      <label for="customer">Customer</label>
      <InputText id="customer" v-model="customer" size="small" maxlength="120" autocomplete="off" />
      <a
        v-if="customer.trim()"
        :href="`/api/customers/dossier.zip?customer=${encodeURIComponent(customer.trim())}`"
        data-dossier
        >Take everything along</a
      >
      <button v-if="customer.trim() && !erasing" type="button" class="link" data-erase @click="erasing = true">
        Erase everything
      </button>
    </div>
    <form v-if="erasing" class="row" @submit.prevent="erase">
      <label for="customer-again">The name once more</label>
      <InputText id="customer-again" v-model="again" size="small" maxlength="120" autocomplete="off" />
      <Button
        type="submit"
        label="Erase for good"
        size="small"
        severity="secondary"
        variant="outlined"
        :disabled="!again.trim()"
      />
      <button type="button" class="link" @click="erasing = false">Keep it</button>
    </form>
    <p v-if="erasing" class="caution">
      ▲ Every job of this customer goes, with its revisions, notes, photographs and logs.
    </p>
    <p v-if="told" class="good" role="status" data-erased>✓ {{ told }}</p>
    <p v-if="trouble" class="stop" role="alert">■ {{ trouble }}</p>
  </section>
</template>

<style scoped>
.customer {
  display: grid;
  gap: 8px;
  font-size: var(--text);
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
@media (max-width: 700px) {
  .row a,
  .link {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
  }
}
</style>
