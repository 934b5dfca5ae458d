<script setup lang="ts">
import { takeout } from '@/api/files'
import { useDecisions } from '@/api/queries'
import EmptyPlace from '@/shared/EmptyPlace.vue'
import { useSelection } from '@/shared/selection'
import StageFrame from '@/shared/StageFrame.vue'
import { DECIDE } from '@/shared/tabs'
import { count, day, money, percent, withDays } from '@/shared/words'
import { labelOf, range, told } from './scores'

/** What was decided, why, by whom and on what, those that ask to be looked at again first. */
const { product, select, isSelected } = useSelection()
const { data, error, isPending } = useDecisions(product)
</script>

<template>
  <StageFrame :tabs="DECIDE" :busy="isPending" :problem="error?.message">
    <div v-if="data" class="decisions" data-decisions>
      <EmptyPlace v-if="!data.length" title="Nothing is decided yet">
        Choose an idea, or set it aside, in the <RouterLink :to="{ name: 'ranking' }">ranking</RouterLink>. What it
        rested on is kept as it was.
      </EmptyPlace>
      <a v-else class="btn btn-plain" :href="takeout.decisions(product)">Take out as Markdown</a>
      <ol v-if="data.length">
        <li
          v-for="one in data"
          :key="one.id"
          :class="{ on: isSelected('idea', one.idea), overtaken: one.overtaken }"
          :data-decision="one.id"
        >
          <h2>
            <button type="button" class="open" @click="select('idea', one.idea)">
              <span class="quiet">I{{ one.idea }}</span> {{ one.title }}
            </button>
          </h2>
          <p>
            <b>{{ one.outcome === 'chosen' ? 'Chosen' : 'Set aside' }}</b> on {{ day(one.on)
            }}<template v-if="one.by"> by {{ one.by }}</template
            >: {{ one.reason }}
            <span v-if="one.overtaken" class="small quiet">A later decision took its place.</span>
            <span v-else-if="one.look_again_on" class="small quiet"
              >To be looked at again on {{ day(one.look_again_on) }}.</span
            >
          </p>
          <div v-if="one.look_again.length" class="again" data-again>
            <b>Look at it again.</b>
            <ul>
              <li v-for="words in one.look_again" :key="words">{{ withDays(words) }}</li>
            </ul>
            <RouterLink class="btn btn-outline" :to="{ name: 'ranking', query: { at: `idea:${one.idea}` } }"
              >Decide again</RouterLink
            >
          </div>
          <details v-if="one.frozen" class="small">
            <summary class="quiet">What it rested on then</summary>
            <p>
              {{ one.frozen.model.definition.title
              }}<template v-if="one.frozen.model.version">, version {{ one.frozen.model.version }}</template
              >:
              <template v-if="one.frozen.kept.place.spread"
                >{{ told(one.frozen.kept.place.spread.median) }} ({{ told(one.frozen.kept.place.spread.low) }} to
                {{ told(one.frozen.kept.place.spread.high) }}), place {{ one.frozen.kept.place.rank }} of
                {{ one.frozen.of }}, in the top 3 in {{ percent(one.frozen.kept.place.top ?? 0) }} of all
                cases</template
              ><template v-else>no score; it lacked {{ one.frozen.kept.place.missing.join(', ') }}</template>
            </p>
            <ul>
              <li v-for="(estimated, field) in one.frozen.kept.fields" :key="field">
                {{ labelOf(one.frozen.model.definition, String(field)) }}: {{ range(estimated) }}
              </li>
            </ul>
            <p>
              {{ one.frozen.evidence.reasons.map(withDays).join('; ') }}.
              {{ count(one.frozen.voices.people, 'person', 'people') }},
              {{ count(one.frozen.voices.accounts, 'account') }}, € {{ money(one.frozen.voices.revenue) }} a year.
            </p>
          </details>
        </li>
      </ol>
    </div>
  </StageFrame>
</template>

<style scoped>
.decisions {
  padding: 8px 16px 40px;
}
ol {
  list-style: none;
  margin: 0;
  max-width: 900px;
  padding: 0;
}
ol > li {
  border-top: 1px solid var(--rule);
  padding: 10px 8px;
}
ol > li:first-child {
  border-top: 0;
}
ol > li.on {
  background: var(--panel);
}
h2 {
  font-size: 16px;
  margin: 0;
}
.open {
  background: none;
  border: 0;
  color: var(--ink);
  font-weight: 600;
  min-height: 24px;
  padding: 0;
  text-align: start;
}
.overtaken h2 {
  font-weight: 400;
}
.again {
  border: 1px solid var(--ink);
  border-radius: 6px;
  margin: 6px 0;
  padding: 6px 12px 8px;
}
p {
  margin: 2px 0;
}
ul {
  margin: 2px 0 4px;
  padding-left: 18px;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
