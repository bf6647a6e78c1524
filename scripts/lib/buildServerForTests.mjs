import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildServer } from './serverBuild.mjs';

/** Jest's globalSetup: tests start the server as it is now, however they are run. */
export default () => buildServer(dirname(dirname(dirname(fileURLToPath(import.meta.url)))));
