import type { Model, ModelStatic } from 'sequelize';
import { createDatabase } from '../test/testServer';
import { openDatabase } from './database';
import { createMigrator } from './migrate';

it('goes up, down and up again, and leaves nothing behind when down', async () => {
  const { url, drop } = await createDatabase();
  const { sequelize, ...models } = openDatabase(url);
  const migrator = createMigrator(sequelize);
  const tables = async () =>
    (await sequelize.getQueryInterface().showAllTables()).filter((name) => name !== 'SequelizeMeta').sort();

  await migrator.up();
  const made = await tables();
  expect(made).toEqual(
    [
      'blob_chunks',
      'blobs',
      'cuts',
      'demo_loads',
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
  for (const model of Object.values<ModelStatic<Model>>(models as never)) {
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
