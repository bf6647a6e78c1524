import { createHash } from 'node:crypto';
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import type { Migration } from './migration';

/**
 * What keeps work safe: trash, changes that name the state they were made on, and tables and samples of
 * patches as bytes of their own, kept once.
 */
export const migration: Migration = {
  name: '0006-keeping',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      ALTER TABLE "references" ADD COLUMN notice text;
      ALTER TABLE studies ADD COLUMN revision integer NOT NULL DEFAULT 1, ADD COLUMN save_id uuid,
        ADD COLUMN deleted_at timestamptz;
      ALTER TABLE cuts ADD COLUMN revision integer NOT NULL DEFAULT 1, ADD COLUMN save_id uuid,
        ADD COLUMN deleted_at timestamptz;
      ALTER TABLE proofs ADD COLUMN deleted_at timestamptz, ADD COLUMN overall_jnd double precision;
      UPDATE proofs SET overall_jnd = (comparison ->> 'overallJnd')::double precision;
      ALTER TABLE proofs ALTER COLUMN overall_jnd SET NOT NULL;
      ALTER TABLE patch_revisions ADD COLUMN save_id uuid UNIQUE;
      ALTER TABLE blobs ADD COLUMN needed_at timestamptz NOT NULL DEFAULT now();
      CREATE TABLE revision_blobs (
        revision_id uuid NOT NULL REFERENCES patch_revisions ON DELETE CASCADE,
        blob_id uuid NOT NULL REFERENCES blobs,
        PRIMARY KEY (revision_id, blob_id)
      );
      CREATE INDEX ON revision_blobs (blob_id);
      CREATE TABLE proof_blobs (
        proof_id uuid NOT NULL REFERENCES proofs ON DELETE CASCADE,
        blob_id uuid NOT NULL REFERENCES blobs,
        PRIMARY KEY (proof_id, blob_id)
      );
      CREATE INDEX ON proof_blobs (blob_id);
    `,
      { transaction },
    );
    await eachDocument(sequelize, transaction, async (document, keep) => {
      for (const { list, bytes, content } of PARTS)
        for (const part of listOf(document, list)) {
          part[content] = await keep(Buffer.from(String(part[bytes]), 'base64'));
          Reflect.deleteProperty(part, bytes);
        }
    });
  },
  async down(sequelize, transaction) {
    await eachDocument(sequelize, transaction, async (document, _keep, bytesOf) => {
      for (const { list, bytes, content } of PARTS)
        for (const part of listOf(document, list)) {
          part[bytes] = (await bytesOf((part[content] as { sha256: string }).sha256)).toString('base64');
          Reflect.deleteProperty(part, content);
        }
    });
    await sequelize.query(
      `
      DROP TABLE revision_blobs, proof_blobs;
      ALTER TABLE blobs DROP COLUMN needed_at;
      ALTER TABLE patch_revisions DROP COLUMN save_id;
      ALTER TABLE proofs DROP COLUMN deleted_at, DROP COLUMN overall_jnd;
      ALTER TABLE cuts DROP COLUMN revision, DROP COLUMN save_id, DROP COLUMN deleted_at;
      ALTER TABLE studies DROP COLUMN revision, DROP COLUMN save_id, DROP COLUMN deleted_at;
      ALTER TABLE "references" DROP COLUMN notice;
    `,
      { transaction },
    );
  },
};

type Json = Record<string, unknown>;

/** Which lists of a patch hold bytes, under which name, and what stands there instead. */
const PARTS = [
  { list: 'wavetables', bytes: 'framesBase64', content: 'frames' },
  { list: 'samples', bytes: 'pcmBase64', content: 'pcm' },
];

const listOf = (document: Json, name: string): Json[] => (document[name] as Json[] | undefined) ?? [];

const CHUNK_BYTES = 1 << 20;

/** Goes through all patches that are kept, one after the other, and writes each back as `change` left it. */
async function eachDocument(
  sequelize: Sequelize,
  transaction: Transaction,
  change: (
    document: Json,
    keep: (bytes: Buffer) => Promise<{ sha256: string; byteLength: number }>,
    bytesOf: (sha256: string) => Promise<Buffer>,
  ) => Promise<void>,
): Promise<void> {
  const select = <T extends object>(sql: string, replacements: Json = {}) =>
    sequelize.query<T>(sql, { replacements, transaction, type: QueryTypes.SELECT });
  const bytesOf = async (sha256: string) => {
    const rows = await select<{ bytes: Buffer }>(
      `SELECT bytes FROM blob_chunks JOIN blobs ON blobs.id = blob_id WHERE sha256 = :sha256 ORDER BY index`,
      { sha256 },
    );
    return Buffer.concat(rows.map(({ bytes }) => bytes));
  };
  for (const { table, column, owner } of [
    { table: 'patch_revisions', column: 'document', owner: 'revision' },
    { table: 'proofs', column: 'patch', owner: 'proof' },
  ]) {
    for (const { id } of await select<{ id: string }>(`SELECT id FROM ${table}`)) {
      const [{ document }] = await select<{ document: Json }>(
        `SELECT ${column} AS document FROM ${table} WHERE id = :id`,
        { id },
      );
      const keep = async (bytes: Buffer) => {
        const content = { sha256: createHash('sha256').update(bytes).digest('hex'), byteLength: bytes.length };
        const [made] = await select<{ id: string }>(
          `INSERT INTO blobs (id, sha256, byte_length) VALUES (gen_random_uuid(), :sha256, :byteLength)
           ON CONFLICT (sha256) DO NOTHING RETURNING id`,
          content,
        );
        for (let index = 0; made && index * CHUNK_BYTES < bytes.length; index++) {
          await sequelize.query('INSERT INTO blob_chunks (blob_id, index, bytes) VALUES ($1, $2, $3)', {
            bind: [made.id, index, bytes.subarray(index * CHUNK_BYTES, (index + 1) * CHUNK_BYTES)],
            transaction,
          });
        }
        await sequelize.query(
          `INSERT INTO ${owner}_blobs (${owner}_id, blob_id) SELECT :id, id FROM blobs WHERE sha256 = :sha256
           ON CONFLICT DO NOTHING`,
          { replacements: { id, sha256: content.sha256 }, transaction },
        );
        return content;
      };
      await change(document, keep, bytesOf);
      await sequelize.query(`UPDATE ${table} SET ${column} = $1 WHERE id = $2`, {
        bind: [JSON.stringify(document), id],
        transaction,
      });
    }
  }
}
