<script setup lang="ts">
import { mdiFlagOutline } from '@mdi/js'
import { defineAsyncComponent } from 'vue'
import { difference, figure, hours } from '@/parts/figures'
import Icon from '@/parts/Icon.vue'
import { useFooting } from '@/book/footing'
import { useUndo } from '@/book/undo'

/** What a figure is made of comes with the menu that shows it, after the first paint. */
const MadeOf = defineAsyncComponent(() => import('./MadeOf.vue'))
const footing = useFooting()
const undo = useUndo()
</script>

<template>
  <footer class="footing" aria-label="Footing">
    <dl>
      <div>
        <dt>{{ footing.title }}</dt>
        <dd class="what">{{ footing.what }}</dd>
      </div>
      <div v-for="f in footing.figures" :key="f.label">
        <dt>{{ f.label }}</dt>
        <dd>
          {{
            f.asIs || f.value.endsWith('%')
              ? f.value
              : (f.label === 'Hours' ? hours(f.value) : figure(f.value)) || 'none'
          }}
          <span v-if="f.change" class="change">{{ difference(f.change) }}</span>
          <MadeOf v-if="f.of?.length" :f="f" />
        </dd>
      </div>
    </dl>
    <router-link v-if="footing.looseEnds" class="loose" to="/"
      ><Icon :path="mdiFlagOutline" /><b
        >{{ footing.looseEnds }} <span>{{ footing.looseEnds === 1 ? 'loose end' : 'loose ends' }}</span></b
      ></router-link
    >
    <span class="state" role="status" :class="{ warn: footing.unsaved }">{{ footing.state }}</span>
    <button v-if="undo.last" class="undo" :title="`${undo.last} (Ctrl Z)`" @click="undo.undo()">Undo</button>
  </footer>
</template>

<style scoped>
.footing {
  position: relative;
  z-index: 1;
  background: var(--denim-deep);
  color: var(--on-denim);
  display: flex;
  align-items: stretch;
  padding: 7px calc(var(--edge) + 6px) 0;
  overflow: hidden;
}
.footing::before,
.footing::after {
  content: '';
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px dashed var(--stitch);
}
.footing::before {
  top: 3px;
}
.footing::after {
  top: 6px;
  opacity: 0.55;
}
.footing > dl {
  display: flex;
  flex: 1;
  min-width: 0;
  overflow: hidden;
}
.footing > dl > div {
  padding: 6px 18px 0;
  border-left: 1px solid var(--on-denim-rule);
  min-width: 4.625rem;
  flex-shrink: 0;
}
.footing > dl > div:first-child {
  border: 0;
  padding-left: 0;
  flex-shrink: 1; /* its text can be shortened, a figure can not */
}
.footing dt {
  font-size: var(--t-sub);
  line-height: 0.9375rem;
  color: var(--on-denim-soft);
  white-space: nowrap;
}
.footing dd {
  font-size: 1.0625rem;
  line-height: 1.375rem;
  font-weight: 600;
  white-space: nowrap;
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.footing dd.what {
  display: block;
  font-size: 0.875rem;
  font-weight: 560;
  overflow: hidden;
  text-overflow: ellipsis;
}
.change {
  font-size: 0.75rem;
  font-weight: 560;
  color: var(--on-denim-warn);
}
.loose b {
  font-weight: inherit;
}
.loose {
  display: flex;
  align-items: center;
  gap: 7px;
  color: var(--on-denim-warn);
  font-weight: 600;
  white-space: nowrap;
  padding-left: 16px;
}
.state {
  display: flex;
  align-items: center;
  padding-left: 20px;
  color: var(--on-denim-soft);
  font-size: var(--t-small);
  white-space: nowrap;
}
.undo {
  padding-left: 16px;
  font-weight: 600;
  text-decoration: underline 1px;
  text-underline-offset: 3px;
}
.state.warn {
  color: var(--on-denim-warn);
}
@media (max-width: 1100px) {
  .footing > dl > div {
    padding: 6px 12px 0;
  }
  .footing dd {
    font-size: 0.9375rem;
  }
}
@media (max-width: 720px) {
  .footing > dl > div:first-child,
  .state:not(.warn) {
    display: none;
  }
  .footing > dl > div:nth-child(2) {
    border: 0;
    padding-left: 0;
  }
  .footing > dl {
    flex-wrap: wrap; /* what does not fit goes under, where it is not seen: no figure is cut */
    max-height: 2.875rem;
  }
  .footing > dl > div {
    min-width: 0;
    flex: none;
  }
  .loose span {
    position: absolute;
    clip-path: inset(50%);
  }
}
</style>
