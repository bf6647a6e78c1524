import { type z } from 'zod';
import { faultOfSharedRoute, sharedEffects } from './edits/chains';
import { InputError } from './inputError';
import { PER_UNISON_VOICE, modulesOf, originsOf, targetOf } from './modules';
import { type PackedPatch, packedPatchSchema } from './contents/packing';
import { framesOfPcm, pcmOf } from './contents/samplePcm';
import { type Effect, type Layer, type Patch, PATCH_VERSION, patchSchema } from './schema';
import { upgradePatch } from './upgrade';
import { checkFrameBytes, framesOf } from './contents/wavetableFrames';

/**
 * A patch from parsed JSON, of this or an earlier version: the schema, then what the schema cannot say (ids
 * that must exist, frames that must fit). Throws an InputError that names the first wrong place and what
 * would be right.
 */
export function parsePatch(json: unknown): Patch {
  const patch = parseDocument(json, patchSchema);
  for (const table of patch.wavetables) framesOf(table);
  for (const sample of patch.samples) pcmOf(sample);
  return patch;
}

/**
 * The same of a packed patch. What its tables and samples hold is not looked at, only whether its length
 * fits.
 */
export function parsePackedPatch(json: unknown): PackedPatch {
  const patch = parseDocument(json, packedPatchSchema);
  for (const table of patch.wavetables) checkFrameBytes(table, table.frames.byteLength);
  for (const sample of patch.samples) framesOfPcm(sample, sample.pcm.byteLength);
  return patch;
}

function parseDocument<T extends Structure>(json: unknown, schema: z.ZodType<T>): T {
  const header = json as Record<string, unknown> | null;
  if (typeof header !== 'object' || header === null || header.format !== 'imprint-patch') {
    throw new InputError('This is not an Imprint patch: expected a JSON object with "format": "imprint-patch".');
  }
  const upgraded = upgradePatch(header);
  if (upgraded.version !== PATCH_VERSION) {
    throw new InputError(
      `Patch version ${JSON.stringify(header.version)} is not known; this program reads versions 1 to ${PATCH_VERSION}.`,
    );
  }
  const result = schema.safeParse(upgraded);
  if (!result.success) throw new InputError(`The patch does not fit its schema: ${firstIssue(result.error)}`);
  checkReferences(result.data);
  return result.data;
}

/** First problem of a Zod error as one line: where, and what was expected. */
export function firstIssue(error: z.ZodError): string {
  const [issue] = error.issues;
  const place = issue.path.length > 0 ? `${issue.path.join('.')}: ` : '';
  return `${place}${issue.message}`;
}

/** What of a patch can be checked without what its tables and samples hold. */
type Structure = Omit<Patch, 'wavetables' | 'samples'> & { wavetables: { id: string }[]; samples: { id: string }[] };

function checkReferences(patch: Structure): void {
  const ids = patch.layers.map(({ id }) => id);
  if (new Set(ids).size < ids.length) throw new InputError(`Two layers have the id "${firstDouble(ids)}".`);
  const double = firstDouble(sharedEffects(patch).map(({ id }) => id));
  if (double !== undefined) throw new InputError(`Two effects of the patch have the id "${double}".`);
  const group = firstDouble(patch.groups.map(({ id }) => id));
  if (group !== undefined) throw new InputError(`Two groups have the id "${group}".`);
  for (const { id, groupId } of patch.layers)
    if (groupId !== null && !patch.groups.some((other) => other.id === groupId))
      throw new InputError(`Layer "${id}" is in group "${groupId}", which the patch does not have.`);
  for (const layer of patch.layers) {
    checkIds(patch, layer);
    checkSources(patch, layer);
    checkRoutes(patch, layer);
    checkEffects(patch, layer.effects);
  }
  checkEffects(patch, sharedEffects(patch));
  for (const route of patch.routes) {
    const fault = faultOfSharedRoute(patch, route);
    if (fault !== undefined) throw new InputError(fault);
  }
}

function checkEffects(patch: Structure, effects: readonly Effect[]): void {
  for (const effect of effects) {
    if (
      'keyLayerId' in effect &&
      effect.keyLayerId !== null &&
      !patch.layers.some(({ id }) => id === effect.keyLayerId)
    )
      throw new InputError(
        `Effect "${effect.id}" listens to layer "${effect.keyLayerId}", which the patch does not have.`,
      );
    if ('sampleId' in effect && effect.sampleId !== null && !patch.samples.some(({ id }) => id === effect.sampleId))
      throw new InputError(`Effect "${effect.id}" plays sample "${effect.sampleId}", which the patch does not hold.`);
  }
}

const firstDouble = (ids: readonly string[]) => ids.find((id, i) => ids.indexOf(id) < i);

function checkIds(patch: Structure, layer: Layer): void {
  const ids = [...modulesOf(layer), ...layer.routes, ...patch.macros].map(({ id }) => id);
  const double = firstDouble(ids);
  if (double !== undefined) throw new InputError(`Two parts of layer "${layer.id}" have the id "${double}".`);
}

function checkSources(patch: Structure, layer: Layer): void {
  const tables = new Set(patch.wavetables.map(({ id }) => id));
  const samples = new Set(patch.samples.map(({ id }) => id));
  for (const source of layer.sources) {
    if (source.kind === 'wavetable' && !tables.has(source.wavetableId)) {
      throw new InputError(
        `Source "${source.id}" plays wavetable "${source.wavetableId}", which the patch does not hold.`,
      );
    }
    if (source.kind === 'sample' && !samples.has(source.sampleId)) {
      throw new InputError(`Source "${source.id}" plays sample "${source.sampleId}", which the patch does not hold.`);
    }
  }
  const sources = new Map(layer.sources.map(({ id, kind }) => [id, kind]));
  for (const interaction of layer.interactions) {
    const ends = interaction.kind === 'ringTone' ? [interaction.to] : [interaction.from, interaction.to];
    const missing = ends.find((id) => !sources.has(id));
    if (missing !== undefined) {
      throw new InputError(`"${interaction.id}" joins "${missing}", which is no source of its layer.`);
    }
    const target = sources.get(interaction.to)!;
    if (interaction.kind === 'fm' && (target === 'noise' || target === 'sample')) {
      throw new InputError(`"${interaction.id}" puts FM on a ${target} source; only sources with a period take it.`);
    }
  }
}

function checkRoutes(patch: Structure, layer: Layer): void {
  const origins = new Map(originsOf(patch, layer).map((origin) => [origin.id, origin]));
  for (const { id, from, to } of layer.routes) {
    const origin = origins.get(from);
    if (!origin)
      throw new InputError(`Route "${id}" comes from "${from}", which is no modulator of its layer and no macro.`);
    const target = targetOf(layer, to);
    if (typeof target === 'string') throw new InputError(`Route "${id}" goes to ${target}.`);
    if ('of' in origin && origin.of === 'unison') {
      const ofSource = layer.sources.some((source) => source.id === to.moduleId);
      if (!ofSource || !PER_UNISON_VOICE.has(to.parameter)) {
        throw new InputError(
          `Route "${id}" goes to "${to.parameter}"; the place among unison voices can move the pitch, level and pan of a source.`,
        );
      }
    }
  }
}
