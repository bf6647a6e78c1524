import { readLongCuts } from './longCuts';

Object.assign(globalThis, { readLongCuts });
