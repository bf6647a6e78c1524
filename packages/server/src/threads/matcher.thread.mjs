// Threads do not inherit what reads TypeScript.
import { register } from 'tsx/esm/api';

register();
await import('./matcherThread.ts');
