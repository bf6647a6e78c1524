import { z } from 'zod';
import { patchSchema } from './schema';

/** The published JSON Schema (draft 2020-12) of a patch as it is written: every value present. */
export function patchJsonSchema(): Record<string, unknown> {
  const schema = z.toJSONSchema(patchSchema, { io: 'output' });
  return {
    ...schema,
    title: 'Imprint patch',
    description: 'A synthesizer patch in real units. Times in seconds, levels in dB.',
  };
}
