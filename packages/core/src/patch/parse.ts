import { type z } from 'zod';
import { parameterOf } from '../parameters/table';
import { type Layer, type Patch, PATCH_VERSION, patchSchema } from './schema';
import { InputError } from './inputError';
import { framesOf } from './wavetableFrames';

/**
 * A patch from parsed JSON: the schema, then what the schema cannot say (ids that must exist, frames that must fit).
 * Throws an InputError that names the first wrong place and what would be right.
 */
export function parsePatch(json: unknown): Patch {
  const header = json as { format?: unknown; version?: unknown } | null;
  if (typeof header !== 'object' || header === null || header.format !== 'imprint-patch') {
    throw new InputError('This is not an Imprint patch: expected a JSON object with "format": "imprint-patch".');
  }
  if (header.version !== PATCH_VERSION) {
    throw new InputError(
      `Patch version ${JSON.stringify(header.version)} is not known; this program reads version ${PATCH_VERSION}.`,
    );
  }
  const result = patchSchema.safeParse(json);
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

function checkReferences(patch: Patch): void {
  const tables = new Set(patch.wavetables.map((table) => table.id));
  for (const table of patch.wavetables) framesOf(table);
  for (const layer of patch.layers) {
    for (const source of layer.sources) {
      if (source.kind === 'wavetable' && !tables.has(source.wavetableId)) {
        throw new InputError(
          `Source "${source.id}" plays wavetable "${source.wavetableId}", which the patch does not hold.`,
        );
      }
    }
    checkRoutes(layer);
  }
}

function checkRoutes(layer: Layer): void {
  const modulators = new Set(layer.modulators.map((modulator) => modulator.id));
  const modules = new Map([layer.filter, ...layer.sources].map((module) => [module.id, module.kind]));
  for (const { id, from, to } of layer.routes) {
    if (!modulators.has(from))
      throw new InputError(`Route "${id}" comes from "${from}", which is no modulator of its layer.`);
    const kind = modules.get(to.moduleId);
    if (!kind)
      throw new InputError(`Route "${id}" goes to "${to.moduleId}", which is no source or filter of its layer.`);
    if (!parameterOf(kind, to.parameter)?.routing) {
      throw new InputError(`Route "${id}" goes to "${to.parameter}", which is nothing that moves in a ${kind}.`);
    }
  }
}
