import * as Comlink from 'comlink';
import { closeReport } from './progress';

/** A thread was ended before it had answered. */
export class EndedError extends Error {
  constructor() {
    super('This was ended before it was done.');
  }
}

export interface RunningWorker<T> {
  /**
   * Calls to the thread. Every one of them ends: with what it gives, with what it throws, or with an
   * EndedError.
   */
  api: Comlink.Remote<T>;
  /** Ends the thread and whatever it is doing. */
  end(): void;
}

export function run<T extends object>(worker: Worker): RunningWorker<T> {
  const remote = Comlink.wrap<T>(worker);
  const pending = new Set<(reason: Error) => void>();
  const endAll = (reason: Error) => {
    for (const reject of pending) reject(reason);
    pending.clear();
  };
  const onError = ({ message }: ErrorEvent) => endAll(new Error(message || 'A thread of the page stopped.'));
  worker.addEventListener('error', onError);

  function call(name: string | symbol, words: unknown[]): Promise<unknown> {
    let over: (reason: Error) => void;
    return new Promise((resolve, reject) => {
      over = reject;
      pending.add(over);
      const method = Reflect.get(remote, name) as (...words: unknown[]) => Promise<unknown>;
      method(...words).then(resolve, reject);
    }).finally(() => {
      pending.delete(over);
      words.forEach(closeReport);
    });
  }

  const api = new Proxy({} as Comlink.Remote<T>, {
    get:
      (_target, name) =>
      (...words: unknown[]) =>
        call(name, words),
  });
  return {
    api,
    end() {
      worker.removeEventListener('error', onError);
      worker.terminate();
      endAll(new EndedError());
    },
  };
}
