import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import { QueryTypes } from 'sequelize';
import type { Logger } from 'pino';
import type { Database } from '../database';

const EVERY_MS = 2000;
/** Who has said nothing for so long is gone, but not within one beat. */
const GONE_SECONDS = Math.max(3, Number(process.env.WORKER_GONE_SECONDS) || 10);
/** By the clock of the database, as all times here. */
export const GONE_AFTER = `interval '${GONE_SECONDS} seconds'`;
const FORGOTTEN_AFTER = "interval '1 hour'";

/** Tells every two seconds that a worker is there. Returns what ends that. */
export function announce(database: Database, slots: number, log: Logger): () => Promise<void> {
  const { sequelize } = database;
  const id = randomUUID();
  let isHeard = true;
  const heard = (now: boolean, error?: unknown) => {
    if (now !== isHeard)
      log.warn({ error }, now ? 'The database is there again.' : 'The database is away; what runs goes on.');
    isHeard = now;
  };
  const tell = () =>
    sequelize
      .query(
        `INSERT INTO workers (id, place, slots) VALUES (:id, :place, :slots)
         ON CONFLICT (id) DO UPDATE SET seen_at = now();
         DELETE FROM workers WHERE seen_at < now() - ${FORGOTTEN_AFTER}`,
        { replacements: { id, slots, place: `${hostname()}, process ${process.pid}` } },
      )
      .then(
        () => heard(true),
        (error: unknown) => heard(false, error),
      );
  void tell();
  const timer = setInterval(() => void tell(), EVERY_MS);
  return async () => {
    clearInterval(timer);
    await sequelize.query('DELETE FROM workers WHERE id = :id', { replacements: { id } }).catch(() => undefined);
  };
}

/** How many runs can be worked on at once, on all machines. */
export async function slotsOf({ sequelize }: Database): Promise<number> {
  const [{ slots }] = await sequelize.query<{ slots: number }>(
    `SELECT coalesce(sum(slots), 0)::integer AS slots FROM workers WHERE seen_at > now() - ${GONE_AFTER}`,
    { type: QueryTypes.SELECT },
  );
  return slots;
}
