import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { join } from 'node:path';
import { Client } from 'pg';

const root = join(import.meta.dirname, '../../..');

/** An empty database of its own in the server that TEST_DATABASE_URL names. */
export async function createDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set. `npm test` sets it.');
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const run = async (statement: string) => {
    const client = new Client({ connectionString: admin });
    await client.connect();
    await client.query(statement);
    await client.end();
  };
  await run(`CREATE DATABASE ${name}`);
  const url = new URL(admin);
  url.pathname = `/${name}`;
  return { url: url.href, drop: () => run(`DROP DATABASE ${name} WITH (FORCE)`) };
}

export interface TestServer {
  url: string;
  process: ChildProcess;
  stop(): Promise<void>;
}

/** The real server in a process of its own. */
export async function startServer(databaseUrl: string, environment: Record<string, string> = {}): Promise<TestServer> {
  const child = spawn(process.execPath, ['--import', 'tsx', join(root, 'packages/server/src/main.ts')], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: '0', ...environment },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const [line] = (await once(createInterface({ input: child.stdout }), 'line')) as [string];
  const { port } = JSON.parse(line) as { port: number };
  return {
    url: `http://localhost:${port}`,
    process: child,
    async stop() {
      const gone = once(child, 'exit');
      child.kill('SIGTERM');
      await gone;
    },
  };
}
