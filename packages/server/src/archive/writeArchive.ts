import { once } from 'node:events';
import type { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { QueryTypes, Transaction } from 'sequelize';
import { type Pack, pack } from 'tar-stream';
import { chunksOf } from '../blobs';
import type { Database } from '../database';
import { ARCHIVED_TABLES, ARCHIVE_FORMAT, ARCHIVE_VERSION } from './tables';

const ROWS_AT_ONCE = 50;

/**
 * Writes everything that is in the database as one tar file: `imprint.json` tells what it is,
 * `tables/NAME/NUMBER.ndjson` hold rows as PostgreSQL writes them as JSON, `blobs/SHA256` the bytes, and
 * `complete.json`, the last, how many there were. All of one moment, whatever is changed meanwhile.
 */
export async function writeArchive(database: Database, output: Writable): Promise<void> {
  const { sequelize } = database;
  const archive = pack();
  const sent = pipeline(archive, output);
  // What fails on the way out is told by the writing as well; both are waited for below.
  sent.catch(() => archive.destroy());
  const { REPEATABLE_READ } = Transaction.ISOLATION_LEVELS;
  await sequelize.transaction({ isolationLevel: REPEATABLE_READ, readOnly: true }, async (transaction) => {
    const select = <T extends object>(sql: string, replacements: Record<string, unknown> = {}) =>
      sequelize.query<T>(sql, { type: QueryTypes.SELECT, replacements, transaction });
    const migrations = (await select<{ name: string }>('SELECT name FROM "SequelizeMeta" ORDER BY name')).map(
      ({ name }) => name,
    );
    await addJson(archive, 'imprint.json', { format: ARCHIVE_FORMAT, version: ARCHIVE_VERSION, migrations });
    const counts: Record<string, number> = {};
    for (const { name, order } of ARCHIVED_TABLES) {
      counts[name] = 0;
      for (let part = 0; ; part++) {
        const rows = await select<{ row: string }>(
          `SELECT row_to_json(t)::text AS row FROM "${name}" t ORDER BY ${order} LIMIT ${ROWS_AT_ONCE} OFFSET :offset`,
          { offset: part * ROWS_AT_ONCE },
        );
        if (rows.length === 0) break;
        counts[name] += rows.length;
        const lines = rows.map(({ row }) => `${row}\n`).join('');
        await addText(archive, `tables/${name}/${String(part).padStart(6, '0')}.ndjson`, lines);
      }
    }
    const blobs = await select<{ id: string; sha256: string; byteLength: string }>(
      'SELECT id, sha256, byte_length AS "byteLength" FROM blobs ORDER BY id',
    );
    for (const blob of blobs) {
      const chunks = chunksOf(database, blob, transaction);
      await addEntry(archive, `blobs/${blob.sha256}`, Number(blob.byteLength), chunks);
    }
    await addJson(archive, 'complete.json', counts);
    archive.finalize();
    await sent;
  });
}

const addJson = (archive: Pack, name: string, value: unknown) =>
  addText(archive, name, `${JSON.stringify(value, null, 1)}\n`);

function addText(archive: Pack, name: string, text: string): Promise<void> {
  const bytes = Buffer.from(text);
  return addEntry(archive, name, bytes.length, [bytes]);
}

async function addEntry(
  archive: Pack,
  name: string,
  size: number,
  chunks: AsyncIterable<Buffer> | Iterable<Buffer>,
): Promise<void> {
  await new Promise<void>((resolve, reject) => {
    // Without a date, so that the same work gives the same archive.
    const entry = archive.entry({ name, size, mtime: new Date(0) }, (error) => (error ? reject(error) : resolve()));
    void (async () => {
      for await (const chunk of chunks) if (!entry.write(chunk)) await once(entry, 'drain');
      entry.end(null);
    })().catch((error: Error) => {
      reject(error);
      archive.destroy(error);
    });
  });
}
