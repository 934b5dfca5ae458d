<script setup lang="ts">
import { useAccounts } from '@/api/queries'
import { useSave } from '@/api/save'
import EditField from '@/shared/EditField.vue'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { LISTEN } from './tabs'

const { select, isSelected } = useSelection()
const { data: accounts, error, isPending } = useAccounts()
const { edit } = useSave()
</script>

<template>
  <StageFrame :tabs="LISTEN" :busy="isPending" :problem="error?.message">
    <EmptyPlace v-if="accounts?.length === 0" title="No account yet">
      Accounts are the organisations that people belong to. They come with feedback: choose the account's column when
      you bring in a file.
      <template #steps
        ><RouterLink class="btn btn-primary" :to="{ name: 'bring-in' }">Bring in a file</RouterLink></template
      >
    </EmptyPlace>
    <table v-else-if="accounts" class="list">
      <thead>
        <tr>
          <th scope="col">Account</th>
          <th scope="col">Segment</th>
          <th scope="col" class="number">Revenue € a year</th>
          <th scope="col" class="number">People</th>
          <th scope="col" class="number">Items</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="account in accounts"
          :key="account.id"
          :class="{ selected: isSelected('account', account.id) }"
          @click="select('account', account.id)"
          @focusin="select('account', account.id)"
        >
          <td>
            <EditField
              :value="account.name"
              :label="`Name of ${account.name}`"
              @save="edit({ kind: 'account', id: account.id }, account, { name: $event })"
            />
          </td>
          <td>
            <EditField
              :value="account.segment"
              :label="`Segment of ${account.name}`"
              placeholder="none"
              @save="edit({ kind: 'account', id: account.id }, account, { segment: $event })"
            />
          </td>
          <td>
            <EditField
              :value="account.yearly_revenue"
              :label="`Revenue of ${account.name}`"
              type="number"
              step="1"
              right
              placeholder="not known"
              @save="edit({ kind: 'account', id: account.id }, account, { yearly_revenue: $event })"
            />
          </td>
          <td class="number">{{ account.people }}</td>
          <td class="number">{{ account.items }}</td>
        </tr>
      </tbody>
    </table>
  </StageFrame>
</template>
