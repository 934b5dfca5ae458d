<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { thingIn } from '@/shared/tabs'
import { day } from '@/shared/words'

/** The few excerpts that stand for all of a finding, and those who say the opposite of most. */
const props = defineProps<{ picture: Schemas['SaidPicture'] }>()
const parts = computed(() =>
  [
    { name: 'What stands for all', excerpts: props.picture.stands_for, of: undefined },
    { name: 'Contrary voices', excerpts: props.picture.contrary, of: props.picture.contrary_count },
  ].filter((part) => part.excerpts.length),
)
const by = (one: Schemas['ExcerptView']) =>
  [one.person ?? 'nameless', one.account, day(one.said_on)].filter(Boolean).join(' · ')
</script>

<template>
  <div class="standing">
    <section v-for="part in parts" :key="part.name" :data-contrary="part.of === undefined ? undefined : ''">
      <h3>
        {{ part.name }} <span v-if="part.of !== undefined" class="small quiet">{{ part.of }} in all</span>
      </h3>
      <blockquote v-for="one in part.excerpts" :key="one.id" class="small">
        <span dir="auto">“{{ one.words }}”</span>
        <footer class="quiet">
          <RouterLink class="thing" :to="thingIn('feedback_item', one.item_id)">F{{ one.item_id }}</RouterLink>
          {{ by(one) }}
        </footer>
      </blockquote>
    </section>
  </div>
</template>

<style scoped>
.standing {
  display: grid;
  gap: 12px 28px;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  margin-bottom: 12px;
}
h3 {
  font-size: 15px;
  margin: 0 0 4px;
}
blockquote {
  margin: 0 0 8px;
}
</style>
