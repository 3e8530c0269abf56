<script setup lang="ts">
// How far a bolt and the parts under it give: lengths and layers, or what was measured. Angle, stretch, running loads
// and temperatures are computed from it.
import { unitOf } from '../ui/units'
import BoltPicture from './BoltPicture.vue'
import { MATERIALS, type ElasticForm } from './elastic'
import TextField from '../ui/TextField.vue'
import { t } from './texts'

const form = defineModel<ElasticForm>({ required: true })
defineProps<{ errors: Record<string, string>; heads: string }>()
</script>

<template>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">{{ t('common-bolt') }}</legend>
    <label>
      <span class="label-text">{{ t('plans-resilience-of-the-bolt') }}</span>
      <select v-model="form.bolt" class="line-field w-full" name="bolt-kind">
        <option value="unknown">{{ t('plans-unknown-no-forecast-of-angle-and') }}</option>
        <option value="lengths">{{ t('plans-from-its-lengths') }}</option>
        <option value="measured">{{ t('plans-measured-resilience') }}</option>
      </select>
    </label>
    <TextField
      v-if="form.bolt === 'measured'"
      v-model="form.boltResilience"
      :label="t('plans-resilience-um-kn-stretch-end-to')"
      name="bolt-resilience"
      inputmode="decimal"
      :placeholder="t('plans-4-51-um-kn')"
      required
      :wrong="errors['bolt.resilience']"
    />
    <template v-if="form.bolt === 'lengths'">
      <BoltPicture
        :segments="form.segments"
        :end="form.end"
        :head="form.head"
        :clamp="form.layers[0]?.thickness ?? ''"
        :outer="form.outer"
      />
      <div v-for="(segment, at) in form.segments" :key="at" class="flex items-end gap-3">
        <TextField
          v-model="segment.length"
          class="grow"
          :label="t('plans-length', { letter: String.fromCharCode(65 + at), unit: unitOf('length') })"
          :name="`length-${at}`"
          :placeholder="t('plans-62-mm')"
          :wrong="errors[`bolt.segment[${at}].length`]"
        />
        <TextField
          v-model="segment.diameter"
          class="grow"
          :label="t('plans-diameter-or-thread')"
          :name="`diameter-${at}`"
          :placeholder="t('common-thread-2')"
          :wrong="errors[`bolt.segment[${at}].diameter`]"
        />
        <button
          type="button"
          class="quiet-key min-h-11"
          :disabled="form.segments.length < 2"
          @click="form.segments.splice(at, 1)"
        >
          {{ t('common-remove') }}
        </button>
      </div>
      <button
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        @click="form.segments.push({ length: '', diameter: 'thread' })"
      >
        {{ t('plans-add-length') }}
      </button>
    </template>
    <div v-if="form.bolt !== 'unknown'" class="grid gap-3 sm:grid-cols-2">
      <label
        ><span class="label-text">{{ t('plans-head') }}</span
        ><select v-model="form.head" class="line-field w-full" name="head">
          <option value="hex">{{ t('plans-hexagon') }}</option>
          <option value="socket">{{ t('plans-socket') }}</option>
        </select></label
      >
      <label
        ><span class="label-text">{{ t('plans-threaded-into') }}</span
        ><select v-model="form.end" class="line-field w-full" name="end">
          <option value="tapped">{{ t('plans-a-tapped-hole') }}</option>
          <option value="nut">{{ t('plans-a-nut') }}</option>
        </select></label
      >
      <label
        ><span class="label-text">{{ t('plans-material') }}</span
        ><select v-model="form.material" class="line-field w-full" name="bolt-material" @change="form.modulus = ''">
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select></label
      >
      <label>
        <span class="label-text">{{
          form.end === 'nut' ? t('plans-material-of-the-nut') : t('plans-material-of-the-tapped-hole')
        }}</span>
        <select v-model="form.endMaterial" class="line-field w-full" name="end-material">
          <option value="">{{ form.end === 'nut' ? t('plans-steel') : t('plans-as-its-groups') }}</option>
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select>
      </label>
    </div>
  </fieldset>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">{{ t('plans-clamped-parts') }}</legend>
    <label>
      <span class="label-text">{{ t('plans-resilience-of-the-parts') }}</span>
      <select v-model="form.parts" class="line-field w-full" name="parts-kind">
        <option value="unknown">{{ t('plans-unknown') }}</option>
        <option value="layers">{{ t('plans-from-their-layers') }}</option>
        <option value="measured">{{ t('plans-measured-resilience') }}</option>
      </select>
    </label>
    <template v-if="form.parts !== 'unknown'">
      <TextField
        v-if="form.parts === 'measured'"
        v-model="form.partsResilience"
        :label="t('plans-resilience-um-kn')"
        name="parts-resilience"
        inputmode="decimal"
        :placeholder="t('plans-1-2-um-kn')"
        required
        :wrong="errors['parts.resilience']"
      />
      <p class="text-dim">
        {{ t('plans-from-the-down', { heads })
        }}<template v-if="form.parts === 'measured'">{{ t('plans-temperatures-need-their-materials') }}</template>
      </p>
      <div
        v-for="(layer, at) in form.layers"
        :key="at"
        class="grid grid-cols-2 items-end gap-3 sm:grid-cols-[1fr_1fr_1fr_auto]"
        :data-test="`layer-${at}`"
      >
        <TextField
          v-model="layer.name"
          :label="t('plans-part', { at: at + 1 })"
          :name="`layer-name-${at}`"
          :placeholder="at ? t('plans-gasket') : t('common-head')"
        />
        <TextField
          v-model="layer.thickness"
          :label="t('plans-thickness', { unit: unitOf('length') })"
          :name="at ? `layer-thickness-${at}` : 'clamp_length'"
          :placeholder="t('plans-80-mm')"
        />
        <label>
          <span class="label-text">{{ t('plans-material') }}</span>
          <select
            v-model="layer.material"
            class="line-field w-full"
            :name="`layer-material-${at}`"
            @change="layer.modulus = ''"
          >
            <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
            <option v-if="!layer.material" value="">{{ layer.modulus }}</option>
          </select>
          <span v-if="layer.material && layer.modulus" class="text-dim">{{
            t('plans-as-the-plan-says', { modulus: layer.modulus })
          }}</span>
        </label>
        <button
          type="button"
          class="quiet-key min-h-11"
          :disabled="form.layers.length < 2"
          @click="form.layers.splice(at, 1)"
        >
          {{ t('common-remove') }}
        </button>
        <p
          v-for="key in ['thickness', 'material', 'modulus'].filter((key) => errors[`parts.layer[${at}].${key}`])"
          :key="key"
          class="col-span-full font-semibold text-wrong"
          role="alert"
        >
          {{ errors[`parts.layer[${at}].${key}`] }}
        </p>
      </div>
      <button
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        data-test="add-layer"
        @click="form.layers.push({ name: '', thickness: '', material: 'aluminium', modulus: '' })"
      >
        {{ t('plans-add-part') }}
      </button>
      <div class="grid gap-3 sm:grid-cols-2">
        <TextField
          v-model="form.bearingOd"
          :label="t('plans-outer-diameter-of-the-face-under', { heads })"
          name="bearing_od"
          :placeholder="t('plans-17-mm')"
          :wrong="errors['parts.bearing_od']"
        />
        <TextField
          v-model="form.hole"
          :label="t('plans-hole-with-its-chamfer')"
          name="hole"
          :placeholder="t('plans-12-mm')"
          :wrong="errors['parts.hole']"
        />
        <TextField
          v-model="form.outer"
          :label="t('plans-outer-diameter-of-what-is-clamped')"
          name="outer"
          :placeholder="t('plans-32-mm')"
          :wrong="errors['parts.outer']"
        />
        <TextField
          v-model="form.pressureLimit"
          :label="t('plans-max-pressure-under-the-head', { unit: unitOf('pressure') })"
          name="pressure_limit"
          :placeholder="t('plans-typical-for-the-material')"
          :wrong="errors['parts.pressure_limit']"
        />
        <TextField
          v-model="form.washerOuter"
          :label="t('plans-washer-outer-diameter')"
          name="washer-outer"
          :placeholder="t('common-none')"
          :wrong="errors['parts.washer.outer']"
        />
        <TextField
          v-model="form.washerThickness"
          :label="t('plans-washer-thickness')"
          name="washer-thickness"
          :placeholder="t('common-none')"
          :wrong="errors['parts.washer.thickness']"
        />
      </div>
    </template>
  </fieldset>
</template>
