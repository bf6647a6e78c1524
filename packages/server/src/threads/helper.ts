import { parentPort } from 'node:worker_threads';
import { createHelper } from '@imprint/core/matching/search/helper';
import Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter.js';

if (!parentPort) throw new Error('This file is run as a thread.');
Comlink.expose(createHelper(), nodeEndpoint(parentPort));
