import { randomUUID } from 'node:crypto';
import { type Model, type ModelStatic, QueryTypes } from 'sequelize';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { PackedPatch } from '@imprint/core/patch/contents/packing';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import { sampleFromChannels } from '@imprint/core/patch/contents/samplePcm';
import { wavetableFromSamples } from '@imprint/core/patch/contents/wavetableFrames';
import { createDatabase } from '../test/testServer';
import { openDatabase } from './database';
import { createMigrator } from './migrate';

it('goes up, down and up again, and leaves nothing behind when down', async () => {
  const { url, drop } = await createDatabase();
  const { sequelize } = openDatabase(url);
  const migrator = createMigrator(sequelize);
  const tables = async () =>
    (await sequelize.getQueryInterface().showAllTables()).filter((name) => name !== 'SequelizeMeta').sort();

  await migrator.up();
  const made = await tables();
  expect(made).toEqual(
    [
      'blind_tests',
      'blob_chunks',
      'blobs',
      'cuts',
      'demo_loads',
      'match_candidates',
      'match_runs',
      'run_blobs',
      'workers',
      'proof_blobs',
      'revision_blobs',
      'patch_revisions',
      'patches',
      'proofs',
      'readings',
      'references',
      'shelf_chains',
      'studies',
    ].sort(),
  );
  // The models name the columns that the migrations made.
  for (const model of Object.values<ModelStatic<Model>>(sequelize.models as never)) {
    const columns = Object.keys(
      await sequelize.getQueryInterface().describeTable(model.getTableName() as string),
    ).sort();
    const expected = Object.values(model.getAttributes())
      .map(({ field }) => field!)
      .sort();
    expect(expected).toEqual(columns);
  }
  await migrator.down({ to: 0 });
  expect(await tables()).toEqual([]);
  await migrator.up();
  expect(await tables()).toEqual(made);
  await sequelize.close();
  await drop();
});

describe('Keeping patches of earlier versions', () => {
  it('takes tables and samples out of patches, keeps each once, and puts them back on the way down', async () => {
    const { url, drop } = await createDatabase();
    const { sequelize } = openDatabase(url);
    const migrator = createMigrator(sequelize);
    await migrator.up({ to: '0005-shelf' });
    const patch = emptyPatch('Old');
    const wave = Float32Array.from({ length: 2048 }, (_, i) => Math.sin((2 * Math.PI * i) / 2048));
    patch.wavetables.push(wavetableFromSamples('table-1', 'Sine', wave), wavetableFromSamples('table-2', 'Same', wave));
    patch.samples.push(sampleFromChannels('sample-1', 'Hit', 44100, [wave]));
    const ids = Array.from({ length: 5 }, () => randomUUID());
    await sequelize.query(
      `INSERT INTO blobs VALUES ($1, 'x', 1); INSERT INTO "references" VALUES ($2, $1, 'a.wav', 'WAV', 1, 44100, 1);
       INSERT INTO studies (id, reference_id, title) VALUES ($3, $2, 'Old study');
       INSERT INTO patches VALUES ($4, $3);`.replaceAll(/\$(\d)/g, (_, i: string) => `'${ids[Number(i) - 1]}'`),
    );
    const document = () => sequelize.query('SELECT document FROM patch_revisions', { type: QueryTypes.SELECT });
    await sequelize.query('INSERT INTO patch_revisions (id, patch_id, number, document) VALUES ($1, $2, 1, $3)', {
      bind: [ids[4], ids[3], JSON.stringify(patch)],
    });
    await migrator.up();
    const [{ document: packed }] = (await document()) as [{ document: PackedPatch }];
    expect(JSON.stringify(packed)).not.toContain('Base64');
    expect(parsePackedPatch(packed).wavetables[0].frames).toEqual(packed.wavetables[1].frames);
    const counts = await sequelize.query<{ n: number }>('SELECT count(*)::integer AS n FROM revision_blobs', {
      type: QueryTypes.SELECT,
    });
    expect(counts).toEqual([{ n: 2 }]);
    await migrator.down({ to: '0006-keeping' });
    expect(await document()).toEqual([{ document: JSON.parse(JSON.stringify(patch)) as unknown }]);
    await sequelize.close();
    await drop();
  });

  it('brings chains on the shelf under the names of today, and back', async () => {
    const { url, drop } = await createDatabase();
    const { sequelize } = openDatabase(url);
    const migrator = createMigrator(sequelize);
    await migrator.up({ to: '0006-keeping' });
    const effects = [{ kind: 'phasing' }, { kind: 'drive', curve: 'fold' }];
    await sequelize.query('INSERT INTO shelf_chains (id, name, purpose, effects) VALUES ($1, $2, $3, $4)', {
      bind: [randomUUID(), 'Up the stairs', '', JSON.stringify(effects)],
    });
    const shelf = () => sequelize.query('SELECT effects FROM shelf_chains', { type: QueryTypes.SELECT });
    await migrator.up();
    expect(await shelf()).toEqual([{ effects: [{ kind: 'phaser' }, { kind: 'drive', curve: 'straightFold' }] }]);
    await migrator.down({ to: '0007-revisions' });
    expect(await shelf()).toEqual([{ effects }]);
    await sequelize.close();
    await drop();
  });

  it('does each step once when several programs start at the same time', async () => {
    const { url, drop } = await createDatabase();
    const starts = Array.from({ length: 4 }, () => openDatabase(url));
    await Promise.all(starts.map(({ sequelize }) => createMigrator(sequelize).up()));
    expect(await createMigrator(starts[0].sequelize).pending()).toEqual([]);
    await Promise.all(starts.map(({ sequelize }) => sequelize.close()));
    await drop();
  });
});
