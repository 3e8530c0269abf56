<script setup lang="ts">
// How far a bolt and the parts under it give: lengths and layers, or what was measured. Angle, stretch, running loads
// and temperatures are computed from it.
import { unitOf } from '../ui/units'
import BoltPicture from './BoltPicture.vue'
import { MATERIALS, type ElasticForm } from './elastic'
import TextField from '../ui/TextField.vue'

const form = defineModel<ElasticForm>({ required: true })
defineProps<{ errors: Record<string, string>; heads: string }>()
</script>

<template>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">Bolt</legend>
    <label>
      <span class="label-text">Resilience of the bolt</span>
      <select v-model="form.bolt" class="line-field w-full" name="bolt-kind">
        <option value="unknown">Unknown: no forecast of angle and stretch</option>
        <option value="lengths">From its lengths</option>
        <option value="measured">Measured resilience</option>
      </select>
    </label>
    <TextField
      v-if="form.bolt === 'measured'"
      v-model="form.boltResilience"
      label="Resilience, µm/kN: stretch end to end"
      name="bolt-resilience"
      inputmode="decimal"
      placeholder="4.51 µm/kN"
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
          :label="`${String.fromCharCode(65 + at)}: length, ${unitOf('length')}`"
          :name="`length-${at}`"
          placeholder="62 mm"
          :wrong="errors[`bolt.segment[${at}].length`]"
        />
        <TextField
          v-model="segment.diameter"
          class="grow"
          label="diameter, or “thread”"
          :name="`diameter-${at}`"
          placeholder="thread"
          :wrong="errors[`bolt.segment[${at}].diameter`]"
        />
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
        ><span class="label-text">Threaded into</span
        ><select v-model="form.end" class="line-field w-full" name="end">
          <option value="tapped">a tapped hole</option>
          <option value="nut">a nut</option>
        </select></label
      >
      <label
        ><span class="label-text">Material</span
        ><select v-model="form.material" class="line-field w-full" name="bolt-material" @change="form.modulus = ''">
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select></label
      >
      <label>
        <span class="label-text">{{ form.end === 'nut' ? 'Material of the nut' : 'Material of the tapped hole' }}</span>
        <select v-model="form.endMaterial" class="line-field w-full" name="end-material">
          <option value="">{{ form.end === 'nut' ? 'steel' : 'as its groups' }}</option>
          <option v-for="[key, name] in MATERIALS" :key="key" :value="key">{{ name }}</option>
        </select>
      </label>
    </div>
  </fieldset>
  <fieldset class="grid gap-3 border-t border-rule pt-3">
    <legend class="pr-2 text-lg font-semibold">Clamped parts</legend>
    <label>
      <span class="label-text">Resilience of the parts</span>
      <select v-model="form.parts" class="line-field w-full" name="parts-kind">
        <option value="unknown">Unknown</option>
        <option value="layers">From their layers</option>
        <option value="measured">Measured resilience</option>
      </select>
    </label>
    <template v-if="form.parts !== 'unknown'">
      <TextField
        v-if="form.parts === 'measured'"
        v-model="form.partsResilience"
        label="Resilience, µm/kN"
        name="parts-resilience"
        inputmode="decimal"
        placeholder="1.2 µm/kN"
        required
        :wrong="errors['parts.resilience']"
      />
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
        <TextField
          v-model="layer.name"
          :label="`Part ${at + 1}`"
          :name="`layer-name-${at}`"
          :placeholder="at ? 'gasket' : 'head'"
        />
        <TextField
          v-model="layer.thickness"
          :label="`Thickness, ${unitOf('length')}`"
          :name="at ? `layer-thickness-${at}` : 'clamp_length'"
          placeholder="80 mm"
        />
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
        <TextField
          v-model="form.bearingOd"
          :label="`Outer diameter of the face under the ${heads}`"
          name="bearing_od"
          placeholder="17 mm"
          :wrong="errors['parts.bearing_od']"
        />
        <TextField
          v-model="form.hole"
          label="Hole, with its chamfer"
          name="hole"
          placeholder="12 mm"
          :wrong="errors['parts.hole']"
        />
        <TextField
          v-model="form.outer"
          label="Outer diameter of what is clamped"
          name="outer"
          placeholder="32 mm"
          :wrong="errors['parts.outer']"
        />
        <TextField
          v-model="form.pressureLimit"
          :label="`Max pressure under the head, ${unitOf('pressure')}`"
          name="pressure_limit"
          placeholder="typical for the material"
          :wrong="errors['parts.pressure_limit']"
        />
        <TextField
          v-model="form.washerOuter"
          label="Washer: outer diameter"
          name="washer-outer"
          placeholder="none"
          :wrong="errors['parts.washer.outer']"
        />
        <TextField
          v-model="form.washerThickness"
          label="Washer: thickness"
          name="washer-thickness"
          placeholder="none"
          :wrong="errors['parts.washer.thickness']"
        />
      </div>
    </template>
  </fieldset>
</template>
