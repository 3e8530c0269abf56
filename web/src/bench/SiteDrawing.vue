<script setup lang="ts">
// Where on a site to measure: the plane along its axis, the direction across it.
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { unitOf } from '../ui/units'

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
      <template v-else-if="site.form === 'ring'">
        <path d="M24 8V112M176 8V112" />
        <path d="M24 52H88V68H24M176 52H112V68H176" fill="var(--face)" />
      </template>
      <template v-else-if="site.form === 'deck'">
        <path d="M8 40H44V112M192 40H156V112" />
        <path d="M50 56H150V112M50 66H150M50 74H150" />
        <circle cx="100" cy="98" r="11" />
      </template>
      <template v-else-if="site.form === 'chamber'">
        <path d="M14 96H44Q54 30 100 30T156 96H186" />
        <path d="M40 84Q100 78 160 84" stroke="var(--layout)" stroke-width="3" />
        <path d="M96 4H104V58L100 66 96 58Z" />
      </template>
      <template v-else-if="site.form === 'valve'">
        <path d="M36 22V112M164 22V112M42 78H158V112M42 88H158" />
        <path d="M96 4V34L72 50H128L104 34V4" />
      </template>
      <template v-else-if="site.form === 'strip'">
        <path d="M24 92Q100 108 176 92" />
        <rect x="40" y="52" width="120" height="18" fill="var(--plate)" />
      </template>
      <template v-else-if="site.form === 'angle'">
        <circle cx="100" cy="60" r="50" />
        <circle cx="100" cy="60" r="38" stroke="var(--dim)" />
        <line
          v-for="a in 36"
          :key="a"
          x1="100"
          y1="10"
          x2="100"
          :y2="a % 9 ? 16 : 22"
          :transform="`rotate(${a * 10} 100 60)`"
        />
      </template>
      <template v-else-if="site.form === 'count'">
        <g v-for="link in 6" :key="link" :transform="`translate(${link * 28 - 4} 60)`">
          <rect x="-16" y="-13" width="32" height="26" rx="13" :fill="link % 2 ? 'var(--face)' : 'var(--plate)'" />
          <circle r="5" />
        </g>
      </template>
      <template
        v-else-if="
          site.form === 'torque' || site.form === 'pressure' || site.form === 'temperature' || site.form === 'mass'
        "
      >
        <circle cx="100" cy="60" r="50" />
        <line v-for="a in 9" :key="a" x1="100" y1="12" x2="100" y2="22" :transform="`rotate(${a * 30 - 150} 100 60)`" />
        <path d="M92 110V118H108V110" />
      </template>
      <template v-else>
        <path d="M24 42H44V78H24ZM44 50H176V70H44M140 50V70M148 50V70M156 50V70M164 50V70" />
      </template>
      <path
        v-if="['journal', 'bore', 'strip', 'length'].includes(site.form)"
        d="M4 60H196"
        stroke="var(--dim)"
        stroke-width="0.8"
        stroke-dasharray="12 4 2 4"
      />
    </g>
    <template v-if="site.form === 'journal' || site.form === 'bore'">
      <line
        v-for="p in planes"
        :key="p"
        :x1="planeX(p - 1)"
        :x2="planeX(p - 1)"
        y1="14"
        y2="106"
        stroke="var(--rule)"
        stroke-width="2"
      />
      <line
        v-if="place"
        :x1="planeX(place.plane)"
        :x2="planeX(place.plane)"
        y1="8"
        y2="112"
        stroke="var(--layout)"
        stroke-width="4"
      />
      <g transform="translate(280 60)">
        <circle
          r="46"
          :fill="site.form === 'journal' ? 'var(--face)' : 'none'"
          stroke="var(--ink)"
          stroke-width="1.5"
        />
        <circle v-if="site.form === 'bore'" r="54" fill="none" stroke="var(--ink)" stroke-width="1" />
        <line
          v-for="a in directions"
          :key="a"
          y1="-46"
          y2="46"
          :transform="`rotate(${a})`"
          stroke="var(--rule)"
          stroke-width="2"
        />
        <g
          v-if="place?.angle_deg != null"
          :transform="`rotate(${place.angle_deg})`"
          stroke="var(--layout)"
          fill="var(--layout)"
        >
          <line y1="-46" y2="46" stroke-width="3.5" />
          <path d="M0-46-6-34H6zM0 46-6 34H6z" />
        </g>
      </g>
    </template>
    <g v-else-if="site.form === 'gap'" stroke="var(--layout)" fill="var(--layout)">
      <path d="M90 60H110" stroke-width="3.5" />
      <path d="M90 60 78 54V66zM110 60l12-6V66z" />
    </g>
    <g v-else-if="site.form === 'ring'" stroke="var(--layout)" fill="var(--layout)">
      <path d="M88 84V40M112 84V40" stroke-width="1.5" />
      <path d="M60 60H88M140 60H112" stroke-width="3" />
      <path d="M88 60 76 54V66zM112 60l12-6V66z" />
    </g>
    <g v-else-if="site.form === 'deck'" stroke="var(--layout)" fill="var(--layout)">
      <path :d="place?.plane ? 'M136 22V54' : 'M64 22V54'" stroke-width="3.5" />
      <path :d="place?.plane ? 'M136 56l-6-12h12z' : 'M64 56l-6-12h12z'" />
      <path d="M4 40H44M156 40H196" stroke-width="2.5" />
    </g>
    <g v-else-if="site.form === 'valve'">
      <g stroke="var(--layout)" fill="var(--layout)">
        <path d="M100 54V74" stroke-width="3" />
        <path d="M100 50 95 60H105zM100 78 95 68H105z" />
      </g>
      <g transform="translate(280 60)">
        <circle r="46" fill="none" stroke="var(--ink)" stroke-width="1.5" />
        <path d="M0-46V-54" stroke="var(--ink)" stroke-width="2" />
        <line
          v-for="p in site.places"
          :key="p.name"
          y1="-46"
          y2="-38"
          :transform="`rotate(${p.crank_deg ?? 0})`"
          stroke="var(--dim)"
          stroke-width="1.5"
        />
        <g
          v-if="place?.crank_deg != null"
          :transform="`rotate(${place.crank_deg})`"
          stroke="var(--layout)"
          fill="var(--layout)"
        >
          <line y1="0" y2="-44" stroke-width="3.5" />
          <path d="M0-46-6-34H6z" />
        </g>
        <circle r="4" fill="var(--ink)" />
      </g>
    </g>
    <g v-else-if="site.form === 'angle'" stroke="var(--layout)" fill="var(--layout)">
      <path d="M100 60V14" stroke-width="3.5" transform="rotate(40 100 60)" />
      <path d="M100 8 94 20H106z" transform="rotate(40 100 60)" />
      <path d="M150 118V104l-5 6m5-6 5 6" stroke-width="2" fill="none" />
      <circle cx="100" cy="60" r="5" />
    </g>
    <g v-else-if="site.form === 'count'" stroke="var(--layout)" fill="none" stroke-width="3">
      <path d="M24 84V100H164V84" />
      <path d="M24 40V26M164 40V26" />
    </g>
    <g
      v-else-if="['torque', 'pressure', 'temperature', 'mass'].includes(site.form)"
      stroke="var(--layout)"
      fill="var(--layout)"
    >
      <path d="M100 60V20" stroke-width="3.5" transform="rotate(50 100 60)" />
      <circle cx="100" cy="60" r="6" />
      <text x="176" y="72" font-size="30" stroke="none">{{ unitOf(site.dimension) }}</text>
    </g>
    <template v-else-if="site.form === 'chamber'" />
    <g v-else-if="site.form === 'strip'" stroke="var(--layout)" fill="none" stroke-width="3.5">
      <path :d="place?.plane ? 'M148 44V78' : 'M52 44V78'" />
    </g>
    <g v-else stroke="var(--layout)" fill="var(--layout)">
      <path d="M24 94H176" stroke-width="3" />
      <path d="M24 94 36 88V100zM176 94l-12-6V100z" />
    </g>
  </svg>
</template>
