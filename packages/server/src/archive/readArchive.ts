import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { QueryTypes } from 'sequelize';
import { extract } from 'tar-stream';
import { z } from 'zod';
import type { BroughtBack } from '@imprint/contract/api';
import { InputError } from '@imprint/core/patch/inputError';
import { type Database, openDatabase } from '../database';
import { createMigrator } from '../migrate';
import { INCOMING, takeIn } from './replace';
import { ARCHIVED_TABLES, ARCHIVE_FORMAT, ARCHIVE_VERSION } from './tables';

const headSchema = z.object({
  format: z.literal(ARCHIVE_FORMAT),
  version: z.literal(ARCHIVE_VERSION),
  migrations: z.array(z.string()),
});
const countsSchema = z.record(z.string(), z.int());

const CHUNK_BYTES = 1 << 20;
const LONGEST_TEXT = 400_000_000;

/**
 * Brings back everything that an archive holds, in the place of what is there, which can be changed back for
 * a while. It is read into tables beside those in use: until all of it is there and checked nothing changes.
 * Throws an InputError when it is no archive, is damaged or was cut off.
 */
export async function readArchive(database: Database, input: Readable): Promise<BroughtBack> {
  await database.sequelize.query(`DROP SCHEMA IF EXISTS ${INCOMING} CASCADE; CREATE SCHEMA ${INCOMING};`);
  const incoming = openDatabase(database.url, { schema: INCOMING });
  try {
    await fill(incoming, input);
    const [counts] = await incoming.sequelize.query<BroughtBack>(
      `SELECT (SELECT count(*)::integer FROM studies) AS studies, (SELECT count(*)::integer FROM cuts) AS cuts,
         (SELECT count(*)::integer FROM patch_revisions) AS revisions, (SELECT count(*)::integer FROM proofs) AS proofs`,
      { type: QueryTypes.SELECT },
    );
    await takeIn(database);
    return counts;
  } finally {
    await incoming.sequelize.close();
    await database.sequelize.query(`DROP SCHEMA IF EXISTS ${INCOMING} CASCADE`);
  }
}

async function fill(incoming: Database, input: Readable): Promise<void> {
  const archive = extract();
  // What fails on the way in ends the entries with the same error.
  const received = pipeline(input, archive).catch((error: Error) => error);
  const migrator = createMigrator(incoming.sequelize);
  const found: Record<string, number> = Object.fromEntries(ARCHIVED_TABLES.map(({ name }) => [name, 0]));
  let blobs = 0;
  let complete: Record<string, number> | undefined;
  let begun = false;
  try {
    for await (const entry of archive) {
      const { name } = entry.header;
      const [folder, part] = name.split('/');
      if (name === 'imprint.json') {
        const head = headSchema.safeParse(jsonOf(await textOf(entry)));
        if (!head.success) throw new InputError('This archive was not made by Imprint, or by a later version of it.');
        const last = head.data.migrations.at(-1);
        const known = (await migrator.pending()).map((migration) => migration.name);
        if (head.data.migrations.some((migration) => !known.includes(migration)))
          throw new InputError('This archive was made by a later version of Imprint. Update this one first.');
        await migrator.up(last === undefined ? {} : { to: last });
        begun = true;
      } else if (!begun) throw noArchive();
      else if (folder === 'tables' && part in found)
        found[part] += await insertRows(incoming, part, await textOf(entry));
      else if (folder === 'blobs') {
        await insertBlob(incoming, part, entry);
        blobs++;
      } else if (name === 'complete.json') complete = countsSchema.parse(jsonOf(await textOf(entry)));
      else throw new InputError(`This archive holds "${name.slice(0, 80)}", which is not known here.`);
    }
  } catch (error) {
    archive.destroy();
    if (error instanceof InputError) throw error;
    throw (error as { name?: string }).name?.startsWith('Sequelize') ? asFault(error) : noArchive();
  }
  const failure = await received;
  if (failure) throw noArchive();
  if (!begun) throw noArchive();
  const short = Object.entries(found).find(([table, count]) => complete?.[table] !== count);
  if (!complete || short || blobs !== found.blobs)
    throw new InputError('This archive was cut off: parts of it are missing. Take another copy of it.');
  await migrator.up();
}

const noArchive = () =>
  new InputError('This is no archive of Imprint, or it is damaged. `imprint backup FILE` makes one.');

/** Rows that contradict one another are the file's fault; a database that is away or full is not. */
function asFault(error: unknown): unknown {
  return /^Sequelize(ForeignKey|Unique|Database|Validation)/.test((error as Error).name) &&
    /violates|invalid input|malformed/.test((error as Error).message)
    ? new InputError(`This archive is damaged: ${(error as Error).message}.`)
    : error;
}

/** One file of an archive, as it is read. */
type Entry = AsyncIterable<unknown> & { header: { size?: number | null } };

async function textOf(entry: Entry): Promise<string> {
  if ((entry.header.size ?? 0) > LONGEST_TEXT) throw noArchive();
  const parts: Buffer[] = [];
  for await (const part of entry) parts.push(part as Buffer);
  return Buffer.concat(parts).toString('utf8');
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw noArchive();
  }
}

/** PostgreSQL reads its own JSON back into rows, so every type comes back as it was. */
async function insertRows({ sequelize }: Database, table: string, text: string): Promise<number> {
  const rows = text.split('\n').filter(Boolean);
  await sequelize.query(`INSERT INTO "${table}" SELECT * FROM json_populate_recordset(NULL::"${table}", $1::json)`, {
    bind: [`[${rows.join(',')}]`],
  });
  return rows.length;
}

async function insertBlob({ Blob, Chunk }: Database, sha256: string, bytes: Entry): Promise<void> {
  const blob = await Blob.findOne({ where: { sha256 }, attributes: ['id', 'byteLength'] });
  if (!blob) throw new InputError('This archive is damaged: it holds bytes that it does not list.');
  const hash = createHash('sha256');
  let held = Buffer.alloc(0);
  let index = 0;
  const keep = async (chunk: Buffer) => {
    hash.update(chunk);
    await Chunk.create({ blobId: blob.id, index: index++, bytes: chunk });
  };
  for await (const part of bytes) {
    held = Buffer.concat([held, part as Buffer]);
    for (; held.length >= CHUNK_BYTES; held = held.subarray(CHUNK_BYTES)) await keep(held.subarray(0, CHUNK_BYTES));
  }
  if (held.length > 0) await keep(held);
  if (hash.digest('hex') !== sha256)
    throw new InputError('This archive is damaged: some of its sounds are not what they were.');
}
