import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
  type Sequelize,
} from 'sequelize';
import type { Run, RunSettings } from '@imprint/contract/runs';
import type { CandidatePicture } from '@imprint/core/matching/candidatePicture';
import type { Trial } from '@imprint/core/matching/blindTest';
import type { Comparison } from '@imprint/core/matching/comparison';
import type { CandidateKind } from '@imprint/core/matching/structure';
import type { PhraseNote } from '@imprint/core/engine/render';
import type { PackedPatch } from '@imprint/core/patch/contents/packing';
import type { Effect } from '@imprint/core/patch/schema';
import type { Grid } from '@imprint/core/reading/piece/grid';
import type { Overrules } from '@imprint/core/reading/hand/overrules';
import type { Isolation } from '@imprint/core/reading/isolation/settings';
import type { Overview } from '@imprint/core/reading/piece/overview';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';
import type { CutRole } from '@imprint/core/reading/cuts/cutRole';

interface Row<T extends Model> extends Model<InferAttributes<T>, InferCreationAttributes<T>> {
  id: CreationOptional<string>;
  createdAt: CreationOptional<Date>;
}

/** Bytes of a reference or a proof; the bytes themselves are in chunks. */
export interface BlobRow extends Row<BlobRow> {
  sha256: string;
  byteLength: number;
  /** When somebody last said that they need them; what nothing refers to is swept some time after. */
  neededAt: CreationOptional<Date>;
}

export interface ChunkRow extends Model<InferAttributes<ChunkRow>, InferCreationAttributes<ChunkRow>> {
  blobId: string;
  index: number;
  bytes: Buffer;
}

export interface ReferenceRow extends Row<ReferenceRow> {
  blobId: string;
  fileName: string;
  format: string;
  durationSeconds: number;
  sampleRateHz: number;
  channels: number;
  /** What was done to its sound when it was read. */
  notice: CreationOptional<string | null>;
  /** What is told of all of it, once it was worked out. */
  overview: CreationOptional<Overview | null>;
  blob?: BlobRow;
}

/** What can lie in the trash. */
interface Deletable {
  /** Null for what is in use. */
  deletedAt: CreationOptional<Date | null>;
}

/** What counts its changes. */
interface Revised {
  revision: CreationOptional<number>;
  /** Chosen by who made the last change: the same change asked for twice is made once. */
  saveId: CreationOptional<string | null>;
}

export interface StudyRow extends Row<StudyRow>, Deletable, Revised {
  updatedAt: CreationOptional<Date>;
  referenceId: string;
  title: string;
  note: CreationOptional<string>;
  role: string | null;
  /** Name of the demo cue that it came from. */
  demoId: string | null;
  /** Beats as set by hand; null for those that were found. */
  grid: CreationOptional<Grid | null>;
  reference?: ReferenceRow;
}

export interface CutRow extends Row<CutRow>, Deletable, Revised {
  studyId: string;
  name: string;
  role: CutRole;
  fromSeconds: number;
  toSeconds: number;
  /** What of it is kept; null for all of it. */
  isolation: Isolation | null;
  /** Notes as corrected by hand; null for those that were found. */
  notes: ReadingNote[] | null;
  overrules: Overrules;
}

export interface ReadingRow extends Row<ReadingRow> {
  cutId: string;
  fromSeconds: number;
  toSeconds: number;
  document: Reading;
}

export interface PatchRow extends Row<PatchRow> {
  studyId: string;
}

export interface RevisionRow extends Row<RevisionRow> {
  patchId: string;
  number: number;
  name: string | null;
  document: PackedPatch;
  /** Chosen by who saved it: the same saving twice is one revision. */
  saveId: CreationOptional<string | null>;
  /** What changed since the one before it, in words; null for those of old and where nothing did. */
  summary: CreationOptional<string | null>;
  pinned: CreationOptional<boolean>;
  /** When the first of the savings was made that it stands for. */
  begunAt: CreationOptional<Date>;
}

export interface ProofRow extends Row<ProofRow>, Deletable {
  studyId: string;
  cutId: string | null;
  blobId: string;
  name: string;
  patch: PackedPatch;
  notes: PhraseNote[];
  comparison: Comparison;
  /** Of the comparison; for lists. */
  overallJnd: number;
  blob?: BlobRow;
}

/** What became known of a match while it runs. */
export interface RunProgress {
  stage: string;
  /** 0..1 of its budget. */
  fraction: number;
  renders: number;
  seconds: number;
}

export interface RunRow extends Row<RunRow> {
  studyId: string;
  settings: RunSettings;
  fromPatch: PackedPatch | null;
  state: CreationOptional<Run['state']>;
  revision: CreationOptional<number>;
  /** How often a worker has taken it. */
  attempts: CreationOptional<number>;
  /** Empty before it has begun. */
  progress: CreationOptional<Partial<RunProgress>>;
  curve: CreationOptional<Run['curve']>;
  best: CreationOptional<PackedPatch | null>;
  /** Of its first cut, once they are known. */
  notes: CreationOptional<PhraseNote[]>;
  overallJnd: CreationOptional<number | null>;
  recommendation: CreationOptional<string>;
  failure: CreationOptional<string | null>;
  /** Who works on it, and when they last said so. */
  lease: CreationOptional<string | null>;
  aliveAt: CreationOptional<Date | null>;
  /** Whether it is to end with what it has. */
  wantsEnd: CreationOptional<boolean>;
  endedAt: CreationOptional<Date | null>;
}

export interface CandidateRow extends Row<CandidateRow> {
  runId: string;
  /** 0 for the one that is recommended. */
  rank: number;
  name: string;
  kind: CandidateKind;
  patch: PackedPatch;
  overallJnd: number;
  settings: number;
  why: string[];
  picture: CandidatePicture;
}

export interface BlindTestRow extends Row<BlindTestRow> {
  studyId: string;
  /** What was compared with the reference, in words. */
  what: string;
  planned: number;
  trials: CreationOptional<Trial[]>;
}

export interface ShelvedChainRow extends Row<ShelvedChainRow> {
  name: string;
  purpose: string;
  effects: Effect[];
}

// Functions, because Sequelize writes into the attribute objects that it is given.
const key = () => ({ type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 });
const link = () => ({ type: DataTypes.UUID, allowNull: false });
const text = () => ({ type: DataTypes.TEXT, allowNull: false });
const real = () => ({ type: DataTypes.DOUBLE, allowNull: false });
const whole = () => ({ type: DataTypes.INTEGER, allowNull: false });
const json = () => ({ type: DataTypes.JSONB, allowNull: false });
const createdAt = () => ({ type: DataTypes.DATE, defaultValue: DataTypes.NOW });
const revision = () => ({ type: DataTypes.INTEGER, allowNull: false, defaultValue: 1 });

/**
 * The tables as Sequelize models. Their columns are made by the migrations; the two are compared in a test.
 */
export function defineModels(sequelize: Sequelize) {
  const options = (tableName: string) => ({ tableName, timestamps: false, underscored: true });

  const Blob = sequelize.define(
    'blob',
    {
      id: key(),
      sha256: text(),
      byteLength: { type: DataTypes.BIGINT, allowNull: false },
      neededAt: createdAt(),
      createdAt: createdAt(),
    },
    options('blobs'),
  ) as ModelStatic<BlobRow>;
  const Chunk = sequelize.define(
    'chunk',
    {
      blobId: { ...link(), primaryKey: true },
      index: { ...whole(), primaryKey: true },
      bytes: { type: DataTypes.BLOB, allowNull: false },
    },
    options('blob_chunks'),
  ) as ModelStatic<ChunkRow>;
  const Reference = sequelize.define(
    'reference',
    {
      id: key(),
      blobId: link(),
      fileName: text(),
      format: text(),
      durationSeconds: real(),
      sampleRateHz: whole(),
      channels: whole(),
      notice: DataTypes.TEXT,
      overview: DataTypes.JSONB,
      createdAt: createdAt(),
    },
    options('references'),
  ) as ModelStatic<ReferenceRow>;
  const Study = sequelize.define(
    'study',
    {
      id: key(),
      referenceId: link(),
      title: text(),
      note: { ...text(), defaultValue: '' },
      role: DataTypes.TEXT,
      demoId: DataTypes.TEXT,
      grid: DataTypes.JSONB,
      revision: revision(),
      saveId: DataTypes.UUID,
      deletedAt: DataTypes.DATE,
      createdAt: createdAt(),
      updatedAt: createdAt(),
    },
    options('studies'),
  ) as ModelStatic<StudyRow>;
  const Cut = sequelize.define(
    'cut',
    {
      id: key(),
      studyId: link(),
      name: text(),
      role: text(),
      fromSeconds: real(),
      toSeconds: real(),
      isolation: DataTypes.JSONB,
      notes: DataTypes.JSONB,
      overrules: json(),
      revision: revision(),
      saveId: DataTypes.UUID,
      deletedAt: DataTypes.DATE,
      createdAt: createdAt(),
    },
    options('cuts'),
  ) as ModelStatic<CutRow>;
  const Reading = sequelize.define(
    'reading',
    { id: key(), cutId: link(), fromSeconds: real(), toSeconds: real(), document: json(), createdAt: createdAt() },
    options('readings'),
  ) as ModelStatic<ReadingRow>;
  const Patch = sequelize.define(
    'patch',
    { id: key(), studyId: link(), createdAt: createdAt() },
    options('patches'),
  ) as ModelStatic<PatchRow>;
  const Revision = sequelize.define(
    'revision',
    {
      id: key(),
      patchId: link(),
      number: whole(),
      name: DataTypes.TEXT,
      document: json(),
      saveId: DataTypes.UUID,
      summary: DataTypes.TEXT,
      pinned: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      begunAt: { type: DataTypes.DATE, allowNull: false, defaultValue: DataTypes.NOW },
      createdAt: createdAt(),
    },
    options('patch_revisions'),
  ) as ModelStatic<RevisionRow>;
  const Proof = sequelize.define(
    'proof',
    {
      id: key(),
      studyId: link(),
      cutId: DataTypes.UUID,
      blobId: link(),
      name: text(),
      patch: json(),
      notes: json(),
      comparison: json(),
      overallJnd: real(),
      deletedAt: DataTypes.DATE,
      createdAt: createdAt(),
    },
    options('proofs'),
  ) as ModelStatic<ProofRow>;

  const Run = sequelize.define(
    'run',
    {
      id: key(),
      studyId: link(),
      settings: json(),
      fromPatch: DataTypes.JSONB,
      state: { ...text(), defaultValue: 'waiting' },
      revision: revision(),
      attempts: { ...whole(), defaultValue: 0 },
      progress: { ...json(), defaultValue: {} },
      curve: { ...json(), defaultValue: [] },
      best: DataTypes.JSONB,
      notes: { ...json(), defaultValue: [] },
      overallJnd: DataTypes.DOUBLE,
      recommendation: { ...text(), defaultValue: '' },
      failure: DataTypes.TEXT,
      lease: DataTypes.TEXT,
      aliveAt: DataTypes.DATE,
      wantsEnd: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      createdAt: createdAt(),
      endedAt: DataTypes.DATE,
    },
    options('match_runs'),
  ) as ModelStatic<RunRow>;
  const Candidate = sequelize.define(
    'candidate',
    {
      id: key(),
      runId: link(),
      rank: whole(),
      name: text(),
      kind: text(),
      patch: json(),
      overallJnd: real(),
      settings: whole(),
      why: json(),
      picture: json(),
      createdAt: createdAt(),
    },
    options('match_candidates'),
  ) as ModelStatic<CandidateRow>;

  const BlindTest = sequelize.define(
    'blindTest',
    {
      id: key(),
      studyId: link(),
      what: text(),
      planned: whole(),
      trials: { ...json(), defaultValue: [] },
      createdAt: createdAt(),
    },
    options('blind_tests'),
  ) as ModelStatic<BlindTestRow>;

  const ShelvedChain = sequelize.define(
    'shelvedChain',
    { id: key(), name: { ...text(), unique: true }, purpose: text(), effects: json(), createdAt: createdAt() },
    options('shelf_chains'),
  ) as ModelStatic<ShelvedChainRow>;

  Reference.belongsTo(Blob, { as: 'blob', foreignKey: 'blobId' });
  Study.belongsTo(Reference, { as: 'reference', foreignKey: 'referenceId' });
  Proof.belongsTo(Blob, { as: 'blob', foreignKey: 'blobId' });
  return {
    Blob,
    Chunk,
    Reference,
    Study,
    Cut,
    Reading,
    Patch,
    Revision,
    Proof,
    Run,
    Candidate,
    BlindTest,
    ShelvedChain,
  };
}
