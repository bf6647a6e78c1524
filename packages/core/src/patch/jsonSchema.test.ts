import Ajv2020 from 'ajv/dist/2020';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createRandom } from '../../test/signals';
import { randomPatch } from '../../test/patches';
import { emptyPatch } from './defaults';
import { patchJsonSchema } from './jsonSchema';
import { parsePatch } from './parse';

describe('Patch as JSON', () => {
  const validate = new Ajv2020({ strict: false, formats: { base64: true } }).compile(patchJsonSchema());
  it('fits the published JSON Schema, by the library ajv', () => {
    const random = createRandom(4);
    for (let i = 0; i < 20; i++) {
      const patch: unknown = JSON.parse(JSON.stringify(randomPatch(random)));
      expect(validate(patch)).toBe(true);
      expect(parsePatch(patch)).toEqual(patch);
    }
  });
  it('is refused by it when a value is out of range', () => {
    const patch = emptyPatch();
    patch.layers[0].levelDb = 1e6;
    expect(validate(patch)).toBe(false);
  });
  it('has a schema in the documentation that is the present one', () => {
    const published = JSON.parse(
      readFileSync(join(import.meta.dirname, '../../../../docs/patch.schema.json'), 'utf8'),
    ) as unknown;
    expect(published).toEqual(JSON.parse(JSON.stringify(patchJsonSchema())));
  });
});
