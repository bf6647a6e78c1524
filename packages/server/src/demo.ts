import { readFileSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { QueryTypes } from 'sequelize';
import { z } from 'zod';
import { toneRoles } from '@imprint/contract/api';
import type { Database } from './database';
import { importReference } from './import/importReference';

const settingsSchema = z.object({
  id: z.string(),
  title: z.string(),
  role: z.enum(toneRoles),
  note: z.string(),
  exposed: z.object({ fromSeconds: z.number(), toSeconds: z.number(), name: z.string() }),
});

/** Makes a study of every demo cue, once: a database that has or had studies is left as it is. */
export async function loadDemo(database: Database, folder: string): Promise<number> {
  const { sequelize, Study, Cut } = database;
  const loaded = await sequelize.query('SELECT at FROM demo_loads', { type: QueryTypes.SELECT });
  if (loaded.length > 0) return 0;
  const names = (await readdir(folder)).filter((name) => name.endsWith('.settings.json')).sort();
  for (const name of names) {
    const settings = settingsSchema.parse(JSON.parse(readFileSync(join(folder, name), 'utf8')));
    const { id, title, role, note, exposed } = settings;
    await importReference(database, join(folder, `${id}.flac`), `${id}.flac`, async (reference, transaction) => {
      // One that was begun before everything stopped is there already.
      if (await Study.findOne({ where: { demoId: id }, transaction })) return;
      const fields = { referenceId: reference.id, title, note, role, demoId: id };
      const study = await Study.create(fields, { transaction });
      const { name: cutName, fromSeconds, toSeconds } = exposed;
      const whole = { role: 'long note' as const, isolation: null, notes: null, overrules: {} };
      await Cut.create({ studyId: study.id, name: cutName, fromSeconds, toSeconds, ...whole }, { transaction });
    });
  }
  await sequelize.query('INSERT INTO demo_loads DEFAULT VALUES');
  return names.length;
}
