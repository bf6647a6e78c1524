import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { Client } from 'pg';

const root = join(import.meta.dirname, '../../..');

/** What PostgreSQL calls insufficient_privilege. */
const NOT_ALLOWED = '42501';

/** An empty database of its own in the server that TEST_DATABASE_URL names. */
export async function createDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set. `npm test` sets it.');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const run = async (statement: string) => {
    const client = new Client({ connectionString: admin });
    await client.connect();
    await client.query(statement).finally(() => client.end());
  };
  const drop = async (more = 20): Promise<void> =>
    run(`DROP DATABASE ${name} WITH (FORCE)`).catch(async (error: { code?: string }) => {
      // The server cleans tables up by itself now and then, which others may not end.
      if (error.code !== NOT_ALLOWED || more === 0) throw error;
      await setTimeout(250);
      return drop(more - 1);
    });
  await run(`CREATE DATABASE ${name}`);
  const url = new URL(admin);
  url.pathname = `/${name}`;
  return { url: url.href, drop };
}

export interface TestServer {
  url: string;
  process: ChildProcess;
  stop(): Promise<void>;
}

/** The real server in a process of its own. */
export async function startServer(databaseUrl: string, environment: Record<string, string> = {}): Promise<TestServer> {
  const { told, ...program } = await startProgram('main', databaseUrl, { PORT: '0', ...environment });
  return { url: `http://localhost:${told.port}`, ...program };
}

/** A real worker in a process of its own. */
export async function startWorker(databaseUrl: string, environment: Record<string, string> = {}) {
  const { process: child, stop } = await startProgram('worker', databaseUrl, { WORKER_SLOTS: '1', ...environment });
  return { process: child, stop };
}

async function startProgram(name: string, databaseUrl: string, environment: Record<string, string>) {
  const child = spawn(process.execPath, ['--enable-source-maps', join(root, `packages/server/dist/${name}.mjs`)], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: databaseUrl, ...environment },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const [line] = (await once(createInterface({ input: child.stdout }), 'line')) as [string];
  return {
    told: JSON.parse(line) as { port: number },
    process: child,
    async stop() {
      if (child.exitCode !== null || child.signalCode !== null) return;
      const gone = once(child, 'exit');
      child.kill('SIGTERM');
      await gone;
    },
  };
}
