<script setup lang="ts">
// How far a bolt and the parts under it give: lengths and layers, or what was measured. Angle, stretch, running loads
// and temperatures are computed from it.
import { unitOf } from '../ui/units'
import BoltPicture from './BoltPicture.vue'
import { MATERIALS, type ElasticForm } from './elastic'

const form = defineModel<ElasticForm>({ required: true })
defineProps<{ errors: Record<string, string>; heads: string }>()
</script>

<template>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">The bolt</legend>
    <label>
      <span class="label-text">How far it stretches</span>
      <select v-model="form.bolt" class="line-field w-full" name="bolt-kind">
        <option value="unknown">Not known: no forecast of angle and stretch</option>
        <option value="lengths">Computed from its lengths</option>
        <option value="measured">Measured resilience</option>
      </select>
    </label>
    <label v-if="form.bolt === 'measured'">
      <span class="label-text">Resilience, µm/kN: its own stretch end to end</span>
      <input
        v-model="form.boltResilience"
        class="field mt-1"
        name="bolt-resilience"
        inputmode="decimal"
        autocomplete="off"
        placeholder="4.51 µm/kN"
        required
      />
      <span v-if="errors['bolt.resilience']" class="block font-semibold text-wrong" role="alert">{{
        errors['bolt.resilience']
      }}</span>
    </label>
    <template v-if="form.bolt === 'lengths'">
      <BoltPicture
        :segments="form.segments"
        :end="form.end"
        :head="form.head"
        :clamp="form.layers[0]?.thickness ?? ''"
        :outer="form.outer"
      />
      <div v-for="(segment, at) in form.segments" :key="at" class="flex items-end gap-3">
        <label class="grow"
          ><span class="label-text">{{ String.fromCharCode(65 + at) }}: length, {{ unitOf('length') }}</span
          ><input
            v-model="segment.length"
            class="line-field w-full"
            :name="`length-${at}`"
            autocomplete="off"
            placeholder="62 mm"
          /><span v-if="errors[`bolt.segment[${at}].length`]" class="block font-semibold text-wrong" role="alert">{{
            errors[`bolt.segment[${at}].length`]
          }}</span></label
        >
        <label class="grow"
          ><span class="label-text">diameter, or “thread”</span
          ><input
            v-model="segment.diameter"
            class="line-field w-full"
            :name="`diameter-${at}`"
            autocomplete="off"
            placeholder="thread"
          /><span v-if="errors[`bolt.segment[${at}].diameter`]" class="block font-semibold text-wrong" role="alert">{{
            errors[`bolt.segment[${at}].diameter`]
          }}</span></label
        >
        <button
          type="button"
          class="quiet-key min-h-11"
          :disabled="form.segments.length < 2"
          @click="form.segments.splice(at, 1)"
        >
          Remove
        </button>
      </div>
      <button
        type="button"
        class="quiet-key min-h-11 justify-self-start"
        @click="form.segments.push({ length: '', diameter: 'thread' })"
      >
        Add length
      </button>
    </template>
    <div v-if="form.bolt !== 'unknown'" class="grid gap-3 sm:grid-cols-2">
      <label
        ><span class="label-text">Head</span
        ><select v-model="form.head" class="line-field w-full" name="head">
          <option value="hex">hexagon</option>
          <option value="socket">socket</option>
        </select></label
      >
      <label
        ><span class="label-text">Ends in</span
        ><select v-model="form.end" class="line-field w-full" name="end">
          <option value="tapped">a tapped hole</option>
          <option value="nut">a nut</option>
        </select></label
      >
      <label
        ><span class="label-text">It is made of</span
        ><select v-model="form.material" class="line-field w-full" name="bolt-material" @change="form.modulus = ''">
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select></label
      >
      <label>
        <span class="label-text">{{ form.end === 'nut' ? 'The nut is of' : 'The hole is tapped into' }}</span>
        <select v-model="form.endMaterial" class="line-field w-full" name="end-material">
          <option value="">{{ form.end === 'nut' ? 'steel' : 'what its groups say' }}</option>
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select>
      </label>
    </div>
  </fieldset>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">The clamped parts</legend>
    <label>
      <span class="label-text">How far they give</span>
      <select v-model="form.parts" class="line-field w-full" name="parts-kind">
        <option value="unknown">Not known</option>
        <option value="layers">Computed from their layers</option>
        <option value="measured">Measured resilience</option>
      </select>
    </label>
    <template v-if="form.parts !== 'unknown'">
      <label v-if="form.parts === 'measured'">
        <span class="label-text">Resilience, µm/kN</span>
        <input
          v-model="form.partsResilience"
          class="field mt-1"
          name="parts-resilience"
          inputmode="decimal"
          autocomplete="off"
          placeholder="1.2 µm/kN"
          required
        />
        <span v-if="errors['parts.resilience']" class="block font-semibold text-wrong" role="alert">{{
          errors['parts.resilience']
        }}</span>
      </label>
      <p class="text-dim">
        From the {{ heads }} down<template v-if="form.parts === 'measured'"
          >; temperatures need their materials</template
        >
      </p>
      <div
        v-for="(layer, at) in form.layers"
        :key="at"
        class="grid grid-cols-2 items-end gap-3 sm:grid-cols-[1fr_1fr_1fr_auto]"
        :data-test="`layer-${at}`"
      >
        <label
          ><span class="label-text">Part {{ at + 1 }}</span
          ><input
            v-model="layer.name"
            class="line-field w-full"
            :name="`layer-name-${at}`"
            autocomplete="off"
            :placeholder="at ? 'gasket' : 'head'"
        /></label>
        <label
          ><span class="label-text">Thickness, {{ unitOf('length') }}</span
          ><input
            v-model="layer.thickness"
            class="line-field w-full"
            :name="at ? `layer-thickness-${at}` : 'clamp_length'"
            autocomplete="off"
            placeholder="80 mm"
        /></label>
        <label>
          <span class="label-text">Material</span>
          <select
            v-model="layer.material"
            class="line-field w-full"
            :name="`layer-material-${at}`"
            @change="layer.modulus = ''"
          >
            <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
            <option v-if="!layer.material" value="">{{ layer.modulus }}</option>
          </select>
          <span v-if="layer.material && layer.modulus" class="text-dim">{{ layer.modulus }}, as the plan says</span>
        </label>
        <button
          type="button"
          class="quiet-key min-h-11"
          :disabled="form.layers.length < 2"
          @click="form.layers.splice(at, 1)"
        >
          Remove
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
        Add part
      </button>
      <div class="grid gap-3 sm:grid-cols-2">
        <label
          ><span class="label-text">Outer diameter of the face under the {{ heads }}</span
          ><input
            v-model="form.bearingOd"
            class="line-field w-full"
            name="bearing_od"
            autocomplete="off"
            placeholder="17 mm"
          /><span
            v-if="errors['parts.bearing_od']"
            class="block font-semibold text-wrong"
            role="alert"
            data-test="wrong-parts.bearing_od"
            >{{ errors['parts.bearing_od'] }}</span
          ></label
        >
        <label
          ><span class="label-text">Hole, with its chamfer</span
          ><input
            v-model="form.hole"
            class="line-field w-full"
            name="hole"
            autocomplete="off"
            placeholder="12 mm"
          /><span
            v-if="errors['parts.hole']"
            class="block font-semibold text-wrong"
            role="alert"
            data-test="wrong-parts.hole"
            >{{ errors['parts.hole'] }}</span
          ></label
        >
        <label
          ><span class="label-text">Outer diameter of what is clamped</span
          ><input
            v-model="form.outer"
            class="line-field w-full"
            name="outer"
            autocomplete="off"
            placeholder="32 mm"
          /><span
            v-if="errors['parts.outer']"
            class="block font-semibold text-wrong"
            role="alert"
            data-test="wrong-parts.outer"
            >{{ errors['parts.outer'] }}</span
          ></label
        >
        <label
          ><span class="label-text">Most pressure that the part under it stands, {{ unitOf('pressure') }}</span
          ><input
            v-model="form.pressureLimit"
            class="line-field w-full"
            name="pressure_limit"
            autocomplete="off"
            placeholder="usual for its material"
          /><span v-if="errors['parts.pressure_limit']" class="block font-semibold text-wrong" role="alert">{{
            errors['parts.pressure_limit']
          }}</span></label
        >
        <label
          ><span class="label-text">Washer: outer diameter</span
          ><input
            v-model="form.washerOuter"
            class="line-field w-full"
            name="washer-outer"
            autocomplete="off"
            placeholder="none"
          /><span v-if="errors['parts.washer.outer']" class="block font-semibold text-wrong" role="alert">{{
            errors['parts.washer.outer']
          }}</span></label
        >
        <label
          ><span class="label-text">Washer: thickness</span
          ><input
            v-model="form.washerThickness"
            class="line-field w-full"
            name="washer-thickness"
            autocomplete="off"
            placeholder="none"
          /><span v-if="errors['parts.washer.thickness']" class="block font-semibold text-wrong" role="alert">{{
            errors['parts.washer.thickness']
          }}</span></label
        >
      </div>
    </template>
  </fieldset>
</template>
