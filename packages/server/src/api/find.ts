import type { Model, ModelStatic } from 'sequelize';
import { z } from 'zod';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { StudyRow } from '../models/models';

const uuid = z.uuid();

/** The row of an id, or a 404 that names what was looked for. */
export async function findRow<T extends Model>(model: ModelStatic<T>, id: string, what: string): Promise<T> {
  const row = uuid.safeParse(id).success ? await model.findByPk(id) : null;
  if (!row) throw new ApiError('notFound', `There is no ${what} of this address any more.`);
  return row;
}

/** What a study's document needs besides its own row. */
export const studyIncludes = () => [
  { association: 'reference', include: [{ association: 'blob' }] },
  { association: 'cuts', separate: true, attributes: ['id', 'studyId'] },
  { association: 'proofs', separate: true, attributes: ['id', 'studyId', 'comparison', 'createdAt'] },
];

export async function findStudy({ Study }: Database, id: string): Promise<StudyRow> {
  const row = uuid.safeParse(id).success ? await Study.findByPk(id, { include: studyIncludes() }) : null;
  if (!row) throw new ApiError('notFound', 'There is no study of this address any more.');
  return row;
}

/** Marks a study as just worked on. */
export async function touchStudy({ Study }: Database, id: string): Promise<void> {
  await Study.update({ updatedAt: new Date() }, { where: { id } });
}
