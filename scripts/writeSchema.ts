/** Writes the published JSON Schema of a patch to docs/patch.schema.json. */
import { writeFileSync } from 'node:fs';
import { patchJsonSchema } from '@imprint/core/patch/jsonSchema';

writeFileSync(new URL('../docs/patch.schema.json', import.meta.url), `${JSON.stringify(patchJsonSchema(), null, 2)}\n`);
