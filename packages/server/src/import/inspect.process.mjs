// A process does not inherit what reads TypeScript.
import { register } from 'tsx/esm/api';

register();
await import('./inspectProcess.ts');
