<script setup lang="ts">
import { computed } from 'vue'
import Amount from '@/parts/Amount.vue'
import Trail from '@/parts/Trail.vue'
import { counted, hours } from '@/parts/figures'
import { useScope } from '@/book/scope'
import DayComb from './DayComb.vue'
import type { Row, Waiting } from './waiting'

/** What waits, by crew and then papers: who, the days as a comb, what stands out, and what it costs. */
const props = defineProps<{ waiting: Waiting }>()
const scope = useScope()
const { rows, chosen, current, data, at, toggle, sums } = props.waiting
const more = computed(() => ({ weeks: data.value?.moreWeeks ?? 0, papers: data.value?.morePapers ?? 0 }))
const groups = computed(() => {
  const found = new Map<string, Row[]>()
  for (const r of rows.value) found.set(r.group, [...(found.get(r.group) ?? []), r])
  return [...found].map(([name, of]) => ({ name, of, ...sums(of) }))
})
const total = computed(() => sums(rows.value))
</script>

<template>
  <div class="scroll">
    <table class="ledger" aria-label="Waiting for approval">
      <colgroup>
        <col style="width: 42px" />
        <col />
        <col style="width: 70px" class="spare" />
        <col style="width: 58px" />
        <col class="out" />
        <col style="width: 86px" class="spare" />
        <col style="width: 86px" />
        <col style="width: 46px" class="spare" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col"><span class="sr">Choose</span></th>
          <th scope="col">Who, what</th>
          <th scope="col" class="spare">Days</th>
          <th scope="col" class="num">Hours</th>
          <th scope="col">What stands out</th>
          <th scope="col" class="num money spare">Cost</th>
          <th scope="col" class="num">Charge</th>
          <th scope="col" class="mk spare">Trail</th>
        </tr>
      </thead>
      <tbody v-for="g in groups" :key="g.name">
        <tr class="group">
          <td colspan="2">{{ g.name }}</td>
          <td class="spare"></td>
          <td class="num">{{ hours(g.hours) }}</td>
          <td></td>
          <td class="num money spare"><Amount :of="g.cost" /></td>
          <td class="num"><Amount :of="g.charge" /></td>
          <td class="spare"></td>
        </tr>
        <tr
          v-for="r in g.of"
          :key="r.key"
          :class="{ open: r === current, chosen: chosen.has(r.key) }"
          @click="at = r.key"
        >
          <td class="mk">
            <input
              type="checkbox"
              class="box"
              :checked="chosen.has(r.key)"
              :aria-label="`Choose ${r.title}`"
              @click.stop="toggle(r)"
            />
          </td>
          <td>
            <button class="two" :aria-current="r === current" @click="at = r.key">
              <span class="strong">{{ r.title }}</span><small>{{ r.sub }}{{ r.paper?.scans ? ', scan' : '' }}</small>
            </button>
          </td>
          <td class="draw spare">
            <DayComb v-if="r.week" :days="r.week.days ?? []" :limit="scope.choices.value?.company.dailyLimit" />
          </td>
          <td class="num">{{ hours(r.hours) }}</td>
          <td>
            <span v-if="r.marks[0]" class="two" :title="r.marks.map((m) => `${m.what}: ${m.against}`).join('\n')"
              ><span class="strong"
                ><i class="flag"></i>{{ r.marks[0].what
                }}<template v-if="r.marks.length > 1"> and {{ r.marks.length - 1 }} more</template></span
              ><small>{{ r.marks[0].against }}</small></span
            >
          </td>
          <td class="num money spare"><Amount :of="r.cost" /></td>
          <td class="num"><Amount :of="r.charge" /></td>
          <td class="mk spare">
            <Trail
              :trail="r.trail"
              :kind="r.week ? 'time_entry' : 'cost_document'"
              :ids="(r.week ? r.entries : r.documents).map((seen) => seen.id)"
            />
          </td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <td></td>
          <th scope="row">
            {{ counted(rows.filter((r) => r.week).length, 'week') }},
            {{ counted(rows.filter((r) => r.paper).length, 'paper') }}
          </th>
          <td class="spare"></td>
          <td class="num">{{ hours(total.hours) }}</td>
          <td></td>
          <td class="num money spare"><Amount :of="total.cost" /></td>
          <td class="num"><Amount :of="total.charge" /></td>
          <td class="spare"></td>
        </tr>
      </tfoot>
    </table>
    <p v-if="more.weeks + more.papers" class="empty soft">
      The oldest are listed; {{ counted(more.weeks, 'week') }} and {{ counted(more.papers, 'paper') }} more come when
      these are settled. All of it is {{ hours(data?.hours) }} h. Choose a time or a job to see others first.
    </p>
  </div>
</template>

<style scoped>
.out {
  width: 208px;
}
@media (max-width: 1180px) {
  .spare {
    display: none;
  }
  .out {
    width: 176px;
  }
}
button.two {
  text-align: left;
  max-width: 100%;
}
</style>
