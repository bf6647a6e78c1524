import type { Response } from 'express';
import { QueryTypes } from 'sequelize';
import type { RunEvent } from '@imprint/contract/runs';
import type { Database } from '../database';
import { slotsOf } from '../runs/presence';
import { runDocument } from './documents';

/** How often is looked while somebody listens: something runs; nothing does. */
const LOOK_MS = 300;
const REST_MS = 2000;
/** A line that is no event keeps those in between from ending a connection that is quiet. */
const BEAT_MS = 15_000;
const SHOWN_RUNS = 40;

export const EVENT_STREAM = 'text/event-stream';

/**
 * Tells pages what becomes known of runs. Workers may be on other machines and come and go, and so may the
 * database: it is asked again and again while somebody listens, for what has changed.
 */
export function createRunFeed(database: Database) {
  const { Run, sequelize } = database;
  const followers = new Set<{ studyId: string; response: Response; seen: string }>();
  let timer: NodeJS.Timeout | undefined;

  /** All that is known of the runs of a study, the newest first, without their patches. */
  async function now(studyId: string): Promise<RunEvent> {
    const rows = await Run.findAll({
      where: { studyId },
      attributes: { exclude: ['best', 'notes'] },
      order: [['createdAt', 'DESC']],
      limit: SHOWN_RUNS,
    });
    return { runs: rows.map(runDocument), slots: await slotsOf(database) };
  }

  /** A word that changes with anything that `now` tells, and whether more is to come soon. */
  async function marksOf(studyIds: string[]): Promise<Map<string, { mark: string; isOpen: boolean }>> {
    const rows = await sequelize.query<{ studyId: string; mark: string; isOpen: boolean }>(
      `SELECT study_id AS "studyId", count(*) || ' ' || sum(revision) || ' ' || max(created_at) AS mark,
         bool_or(state IN ('waiting', 'running')) AS "isOpen"
       FROM match_runs WHERE study_id IN (:studyIds) GROUP BY study_id`,
      { replacements: { studyIds }, type: QueryTypes.SELECT },
    );
    return new Map(rows.map(({ studyId, mark, isOpen }) => [studyId, { mark, isOpen }]));
  }

  async function look(): Promise<void> {
    let isOpen = false;
    try {
      const slots = await slotsOf(database);
      const marks = await marksOf([...followers].map(({ studyId }) => studyId));
      for (const follower of followers) {
        const { mark = '', isOpen: own = false } = marks.get(follower.studyId) ?? {};
        isOpen ||= own;
        const seen = `${mark} ${slots}`;
        if (seen === follower.seen) continue;
        const event = await now(follower.studyId);
        follower.seen = seen;
        follower.response.write(`data: ${JSON.stringify(event)}\n\n`);
      }
    } catch {
      // The database is away: the page keeps what it has, and is told when there is more.
    }
    schedule(isOpen ? LOOK_MS : REST_MS);
  }

  function schedule(afterMs: number): void {
    clearTimeout(timer);
    timer = undefined;
    if (followers.size === 0) return;
    timer = setTimeout(() => void look(), afterMs);
    timer.unref();
  }

  return {
    now,
    /** Looks at once: something was changed here. */
    look: () => schedule(0),
    /** Sends what is known, and what becomes known, until the page goes away. */
    follow(studyId: string, response: Response): void {
      response.setHeader('Content-Type', EVENT_STREAM).setHeader('Cache-Control', 'no-store').flushHeaders();
      const follower = { studyId, response, seen: '' };
      followers.add(follower);
      const beat = setInterval(() => response.write(':\n\n'), BEAT_MS);
      response.on('close', () => {
        clearInterval(beat);
        followers.delete(follower);
      });
      schedule(0);
    },
  };
}
