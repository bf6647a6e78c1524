import type { Migration } from './migration';

/** Matches, what they found, and who works on them. */
export const migration: Migration = {
  name: '0008-runs',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      CREATE TABLE match_runs (
        id uuid PRIMARY KEY,
        study_id uuid NOT NULL REFERENCES studies ON DELETE CASCADE,
        settings jsonb NOT NULL,
        from_patch jsonb,
        state text NOT NULL DEFAULT 'waiting',
        revision integer NOT NULL DEFAULT 1,
        attempts integer NOT NULL DEFAULT 0,
        progress jsonb NOT NULL DEFAULT '{}',
        curve jsonb NOT NULL DEFAULT '[]',
        best jsonb,
        notes jsonb NOT NULL DEFAULT '[]',
        overall_jnd double precision,
        recommendation text NOT NULL DEFAULT '',
        failure text,
        lease text,
        alive_at timestamptz,
        wants_end boolean NOT NULL DEFAULT false,
        created_at timestamptz NOT NULL DEFAULT now(),
        ended_at timestamptz
      );
      CREATE INDEX match_runs_of_study ON match_runs (study_id, created_at DESC);
      CREATE INDEX match_runs_open ON match_runs (state) WHERE state IN ('waiting', 'running');
      CREATE TABLE match_candidates (
        id uuid PRIMARY KEY,
        run_id uuid NOT NULL REFERENCES match_runs ON DELETE CASCADE,
        rank integer NOT NULL,
        name text NOT NULL,
        kind text NOT NULL,
        patch jsonb NOT NULL,
        overall_jnd double precision NOT NULL,
        settings integer NOT NULL,
        why jsonb NOT NULL,
        picture jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (run_id, rank)
      );
      CREATE TABLE run_blobs (
        run_id uuid NOT NULL REFERENCES match_runs ON DELETE CASCADE,
        blob_id uuid NOT NULL REFERENCES blobs,
        PRIMARY KEY (run_id, blob_id)
      );
      CREATE INDEX run_blobs_of_blob ON run_blobs (blob_id);
      CREATE TABLE workers (
        id uuid PRIMARY KEY,
        place text NOT NULL,
        slots integer NOT NULL,
        seen_at timestamptz NOT NULL DEFAULT now()
      )`,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query('DROP TABLE workers, run_blobs, match_candidates, match_runs', { transaction });
  },
};
