/** Programs as the start command runs them; the scripts themselves are plain JavaScript. */
interface StartedProgram {
  pid: number;
  exited: Promise<unknown>;
  stop(): Promise<void>;
}

declare module '*/lib/postgres.mjs' {
  export function startPostgres(
    folder: string,
    options?: { port?: number },
  ): Promise<StartedProgram & { url: string; port: number }>;
}

declare module '*/lib/server.mjs' {
  export function startServer(root: string, environment: Record<string, string>): Promise<StartedProgram>;
}

declare module '*/lib/worker.mjs' {
  export function startWorker(root: string, environment: Record<string, string>): Promise<StartedProgram>;
}

declare module '*/lib/supervise.mjs' {
  export function supervise<T extends StartedProgram>(
    name: string,
    start: (before?: T) => Promise<T>,
    onStarted?: (running: T) => void,
  ): Promise<{ stop(): Promise<void> }>;
}
