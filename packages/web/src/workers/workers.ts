import * as Comlink from 'comlink';
import MediaWorkerFile from './media.worker?worker';
import type { MediaWorker } from './media.worker';
import ToneWorkerFile from './tone.worker?worker';
import type { ToneWorker } from './tone.worker';

export interface RunningWorker<T> {
  api: Comlink.Remote<T>;
  /** Ends the thread and whatever it is doing. */
  end(): void;
}

function run<T>(worker: Worker): RunningWorker<T> {
  return { api: Comlink.wrap<T>(worker), end: () => worker.terminate() };
}

export const startMediaWorker = () => run<MediaWorker>(new MediaWorkerFile());
export const startToneWorker = () => run<ToneWorker>(new ToneWorkerFile());
export const progress = (report: (fraction: number) => void) => Comlink.proxy(report);
