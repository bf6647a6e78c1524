import type { Migration } from './migration';

/** All tables of the first version. Deleting a study takes its cuts, readings, patches and proofs with it. */
export const migration: Migration = {
  name: '0001-studies',
  async up(sequelize, transaction) {
    await sequelize.query(
      `
      CREATE TABLE blobs (
        id uuid PRIMARY KEY,
        sha256 text NOT NULL UNIQUE,
        byte_length bigint NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE blob_chunks (
        blob_id uuid NOT NULL REFERENCES blobs ON DELETE CASCADE,
        index integer NOT NULL,
        bytes bytea NOT NULL,
        PRIMARY KEY (blob_id, index)
      );
      CREATE TABLE "references" (
        id uuid PRIMARY KEY,
        blob_id uuid NOT NULL UNIQUE REFERENCES blobs,
        file_name text NOT NULL,
        format text NOT NULL,
        duration_seconds double precision NOT NULL,
        sample_rate_hz integer NOT NULL,
        channels integer NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE studies (
        id uuid PRIMARY KEY,
        reference_id uuid NOT NULL REFERENCES "references",
        title text NOT NULL,
        note text NOT NULL DEFAULT '',
        role text,
        demo_id text UNIQUE,
        created_at timestamptz NOT NULL DEFAULT now(),
        updated_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX ON studies (reference_id);
      CREATE TABLE cuts (
        id uuid PRIMARY KEY,
        study_id uuid NOT NULL REFERENCES studies ON DELETE CASCADE,
        name text NOT NULL,
        role text NOT NULL,
        from_seconds double precision NOT NULL,
        to_seconds double precision NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        CHECK (to_seconds > from_seconds)
      );
      CREATE INDEX ON cuts (study_id);
      CREATE TABLE readings (
        id uuid PRIMARY KEY,
        cut_id uuid NOT NULL UNIQUE REFERENCES cuts ON DELETE CASCADE,
        from_seconds double precision NOT NULL,
        to_seconds double precision NOT NULL,
        document jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE patches (
        id uuid PRIMARY KEY,
        study_id uuid NOT NULL UNIQUE REFERENCES studies ON DELETE CASCADE,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE TABLE patch_revisions (
        id uuid PRIMARY KEY,
        patch_id uuid NOT NULL REFERENCES patches ON DELETE CASCADE,
        number integer NOT NULL,
        name text,
        document jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now(),
        UNIQUE (patch_id, number)
      );
      CREATE TABLE proofs (
        id uuid PRIMARY KEY,
        study_id uuid NOT NULL REFERENCES studies ON DELETE CASCADE,
        cut_id uuid REFERENCES cuts ON DELETE SET NULL,
        blob_id uuid NOT NULL REFERENCES blobs,
        name text NOT NULL,
        patch jsonb NOT NULL,
        notes jsonb NOT NULL,
        comparison jsonb NOT NULL,
        created_at timestamptz NOT NULL DEFAULT now()
      );
      CREATE INDEX ON proofs (study_id);
      CREATE INDEX ON proofs (blob_id);
      CREATE TABLE demo_loads (at timestamptz NOT NULL DEFAULT now());
    `,
      { transaction },
    );
  },
  async down(sequelize, transaction) {
    await sequelize.query(
      `
      DROP TABLE demo_loads, proofs, patch_revisions, patches, readings, cuts, studies, "references", blob_chunks, blobs;
    `,
      { transaction },
    );
  },
};
