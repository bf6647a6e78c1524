import { parentPort } from 'node:worker_threads';
import Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter.js';
import { startHelpers } from './helpers';
import { createMatcher } from './matcher';

if (!parentPort) throw new Error('This file is run as a thread.');
Comlink.expose(createMatcher(startHelpers().helpers), nodeEndpoint(parentPort));
