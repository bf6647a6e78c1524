import MediaWorkerFile from './media.worker?worker';
import type { MediaWorker } from './media.worker';
import { run } from './running';
import ToneWorkerFile from './tone.worker?worker';
import type { ToneWorker } from './tone.worker';

export { progress } from './progress';
export { EndedError, type RunningWorker } from './running';

export const startMediaWorker = () => run<MediaWorker>(new MediaWorkerFile());
export const startToneWorker = () => run<ToneWorker>(new ToneWorkerFile());
