/**
 * What an archive holds besides the bytes of blobs, in an order in which each table comes after those that it
 * refers to, with what its rows are sorted by.
 */
export const ARCHIVED_TABLES = [
  { name: 'blobs', order: 'id' },
  { name: 'references', order: 'id' },
  { name: 'studies', order: 'id' },
  { name: 'cuts', order: 'id' },
  { name: 'readings', order: 'id' },
  { name: 'patches', order: 'id' },
  { name: 'patch_revisions', order: 'id' },
  { name: 'revision_blobs', order: 'revision_id, blob_id' },
  { name: 'proofs', order: 'id' },
  { name: 'proof_blobs', order: 'proof_id, blob_id' },
  { name: 'match_runs', order: 'id' },
  { name: 'match_candidates', order: 'id' },
  { name: 'run_blobs', order: 'run_id, blob_id' },
  { name: 'blind_tests', order: 'id' },
  { name: 'shelf_chains', order: 'id' },
  { name: 'demo_loads', order: 'at' },
] as const;

export const ARCHIVE_FORMAT = 'imprint-archive';
export const ARCHIVE_VERSION = 1;
