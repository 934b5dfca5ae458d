<script setup lang="ts">
import { useQuery } from '@pinia/colada'
import { api, value } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import { useChannels } from '@/api/queries'
import { useSelection } from '@/shared/selection'
import { moment } from '@/shared/words'

/** What reads from this workspace or brings something into it: channels, calendar links, programs with tokens, mail. */
defineProps<{ mail: boolean | undefined }>()
const { product } = useSelection()
const attempt = useAttempt()
const { data: channels } = useChannels(product)
const links = useQuery({ key: ['calendar-links'], query: () => value(api.GET('/api/v1/calendar-links')) })
const tokens = useQuery({ key: ['tokens'], query: () => value(api.GET('/api/v1/tokens')) })

async function endLink(id: number) {
  await attempt(() => value(api.DELETE('/api/v1/calendar-links/{id}', { params: { path: { id } } })))
  await links.refetch()
}
async function endToken(id: number) {
  await attempt(() => value(api.DELETE('/api/v1/tokens/{id}', { params: { path: { id } } })))
  await tokens.refetch()
}
</script>

<template>
  <section aria-labelledby="connected">
    <h2 id="connected">What is connected</h2>
    <ul>
      <li>
        <div>
          Channels
          <div class="small quiet">
            {{ channels?.map((one) => one.name).join(', ') || 'none brings anything in by itself' }}
          </div>
        </div>
        <RouterLink class="btn btn-outline spacer" :to="{ name: 'bring-in' }">See them</RouterLink>
      </li>
      <li>
        <div>
          Mail
          <div class="small quiet">
            {{
              mail
                ? 'Messages go out by the mail server that the program was started with.'
                : 'No mail server is set: messages are kept as files in the folder of the workspace (serve --mail).'
            }}
          </div>
        </div>
      </li>
      <li v-for="one in tokens.data.value" :key="`token ${one.id}`">
        <div>
          {{ one.name }}
          <div class="small quiet">
            a program that asks for {{ one.by }} as {{ one.role }}; made {{ moment(one.made_at)
            }}{{ one.used_at ? `, used last ${moment(one.used_at)}` : ', never used' }}
          </div>
        </div>
        <button type="button" class="btn btn-outline spacer" :aria-label="`End: ${one.name}`" @click="endToken(one.id)">
          End
        </button>
      </li>
      <li v-for="one in links.data.value" :key="`link ${one.id}`">
        <div>
          {{ one.view }}
          <div class="small quiet">
            a calendar that another program subscribes to; by {{ one.by }}, {{ moment(one.made_at) }}
          </div>
        </div>
        <button type="button" class="btn btn-outline spacer" :aria-label="`End: ${one.view}`" @click="endLink(one.id)">
          End
        </button>
      </li>
    </ul>
  </section>
</template>
