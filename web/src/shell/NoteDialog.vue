<script setup lang="ts">
import { ref } from 'vue'
import { api, value } from '@/api/client'
import { useSave } from '@/api/save'
import { useSelection } from '@/shared/selection'
import { today } from '@/shared/words'

/** A note of what somebody said: typed or pasted, and kept with one key. */
const shown = defineModel<boolean>({ required: true })
const { product } = useSelection()
const { save } = useSave()
const text = ref('')
const person = ref('')
const account = ref('')
const day = ref(today())
const field = ref<HTMLTextAreaElement>()

/** The dialog takes the focus itself when it opens; the words get it when that is over. */
function begin() {
  day.value = today()
  field.value?.focus()
}

async function keep() {
  const body = {
    product: product.value,
    text: text.value,
    person: person.value || null,
    account: account.value || null,
    said_on: day.value || null,
  }
  if (!(await save(value(api.POST('/api/v1/listen/notes', { body }))))) return
  text.value = ''
  shown.value = false
}
</script>

<template>
  <BModal v-model="shown" title="What was said" no-footer @shown="begin">
    <form class="note" @submit.prevent="keep" @keydown.ctrl.enter.prevent="keep" @keydown.meta.enter.prevent="keep">
      <label
        >The words, as they were said
        <textarea ref="field" v-model="text" class="form-control" rows="7" required dir="auto"></textarea>
      </label>
      <div class="row-flex">
        <label>Who <input v-model="person" class="form-control" placeholder="nameless" /></label>
        <label>For whom <input v-model="account" class="form-control" placeholder="an account" /></label>
        <label>When <input v-model="day" type="date" class="form-control" /></label>
      </div>
      <div class="row-flex">
        <button type="submit" class="btn btn-primary">Keep it</button>
        <span class="small quiet"
          ><kbd>Ctrl</kbd> + <kbd>Enter</kbd> keeps it; a line “Name: words” says who speaks.</span
        >
      </div>
    </form>
  </BModal>
</template>

<style scoped>
.note {
  display: grid;
  gap: 10px;
}
.row-flex {
  flex-wrap: wrap;
}
</style>
