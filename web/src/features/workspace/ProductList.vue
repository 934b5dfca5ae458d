<script setup lang="ts">
import { api, value } from '@/api/client'
import { useProducts } from '@/api/queries'
import { useSave } from '@/api/save'
import AddLine from '@/shared/AddLine.vue'
import EditField from '@/shared/EditField.vue'

/** The products of the workspace: named, added, and taken away where they hold nothing. */
const props = defineProps<{ removable: readonly number[] }>()
const emit = defineEmits<{ changed: [] }>()
const { data: products } = useProducts()
const { save, edit } = useSave()
async function add(name: string) {
  const saved = await save(value(api.POST('/api/v1/products', { body: { name } })))
  emit('changed')
  return saved
}
async function remove(id: number, rev: number) {
  await save(value(api.DELETE('/api/v1/products/{id}', { params: { path: { id }, query: { rev } } })))
  emit('changed')
}
</script>

<template>
  <section aria-labelledby="products">
    <h2 id="products">Products</h2>
    <ul>
      <li v-for="one in products" :key="one.id">
        <EditField
          :value="one.name"
          :label="`Name of the product ${one.name}`"
          @save="edit({ kind: 'product', id: one.id }, one, { name: $event })"
        />
        <button
          v-if="props.removable.includes(one.id)"
          type="button"
          class="btn btn-outline spacer"
          :aria-label="`Remove the product ${one.name}`"
          @click="remove(one.id, one.rev)"
        >
          Remove
        </button>
      </li>
    </ul>
    <AddLine name="Name of a new product" placeholder="another product" action="Add" :add="add" />
    <p class="small quiet">A name is changed where it stands. A product can be removed while it holds nothing.</p>
  </section>
</template>
