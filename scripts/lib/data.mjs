import { join } from 'node:path';

/** Where a clone keeps its database. */
export const dataFolder = (root) => process.env.IMPRINT_DATA ?? join(root, 'data');

/** Held by who runs that database. */
export const lockFile = (data) => join(data, 'running.json');
