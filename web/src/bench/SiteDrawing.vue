<script setup lang="ts">
// Where on a site to measure: the plane along its axis, the direction across it.
import { computed } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{ site: Schemas['SiteView']; at: number }>()
const place = computed(() => props.site.places[props.at])
const planes = computed(() => place.value?.planes ?? 1)
const planeX = (plane: number) => 24 + ((plane + 0.5) / planes.value) * 152
const directions = computed(() => [...new Set(props.site.places.map((p) => p.angle_deg).filter((a) => a != null))])
</script>

<template>
  <svg viewBox="0 0 360 120" class="w-full" role="img" :aria-label="`${site.name}: ${place?.name ?? ''}`">
    <g fill="none" stroke="var(--ink)" stroke-width="1.5">
      <template v-if="site.form === 'journal'">
        <path d="M10 44H24V22H176V44H190M10 76H24V98H176V76H190" />
        <path d="M24 44V76M176 44V76" />
      </template>
      <template v-else-if="site.form === 'bore'">
        <path d="M24 10V28H176V10M24 110V92H176V110" />
        <path d="M24 28V92M176 28V92" stroke-dasharray="5 4" />
      </template>
      <template v-else-if="site.form === 'gap'">
        <path d="M24 16H90V104H24M176 16H110V104H176" />
      </template>
      <template v-else-if="site.form === 'strip'">
        <path d="M24 92Q100 108 176 92" />
        <rect x="40" y="52" width="120" height="18" fill="var(--plate)" />
      </template>
      <template v-else>
        <path d="M24 42H44V78H24ZM44 50H176V70H44M140 50V70M148 50V70M156 50V70M164 50V70" />
      </template>
      <path d="M4 60H196" stroke="var(--dim)" stroke-width="0.8" stroke-dasharray="12 4 2 4" />
    </g>
    <template v-if="site.form === 'journal' || site.form === 'bore'">
      <line v-for="p in planes" :key="p" :x1="planeX(p - 1)" :x2="planeX(p - 1)" y1="14" y2="106" stroke="var(--rule)" stroke-width="2" />
      <line v-if="place" :x1="planeX(place.plane)" :x2="planeX(place.plane)" y1="8" y2="112" stroke="var(--layout)" stroke-width="4" />
      <g transform="translate(280 60)">
        <circle r="46" :fill="site.form === 'journal' ? 'var(--face)' : 'none'" stroke="var(--ink)" stroke-width="1.5" />
        <circle v-if="site.form === 'bore'" r="54" fill="none" stroke="var(--ink)" stroke-width="1" />
        <line v-for="a in directions" :key="a" y1="-46" y2="46" :transform="`rotate(${a})`" stroke="var(--rule)" stroke-width="2" />
        <g v-if="place?.angle_deg != null" :transform="`rotate(${place.angle_deg})`" stroke="var(--layout)" fill="var(--layout)">
          <line y1="-46" y2="46" stroke-width="3.5" />
          <path d="M0-46-6-34H6zM0 46-6 34H6z" />
        </g>
      </g>
    </template>
    <g v-else-if="site.form === 'gap'" stroke="var(--layout)" fill="var(--layout)">
      <path d="M90 60H110" stroke-width="3.5" />
      <path d="M90 60 78 54V66zM110 60l12-6V66z" />
    </g>
    <g v-else-if="site.form === 'strip'" stroke="var(--layout)" fill="none" stroke-width="3.5">
      <path :d="place?.plane ? 'M148 44V78' : 'M52 44V78'" />
    </g>
    <g v-else stroke="var(--layout)" fill="var(--layout)">
      <path d="M24 94H176" stroke-width="3" />
      <path d="M24 94 36 88V100zM176 94l-12-6V100z" />
    </g>
  </svg>
</template>
