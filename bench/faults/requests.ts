import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import { createRandom } from '../../packages/core/test/signals';

/**
 * Every route of the API with what it takes; `:id` stands for an id that is there, that was, or that is none.
 */
const ROUTES: [string, string][] = [
  ['GET', '/health'],
  ['GET', '/studies'],
  ['POST', '/studies'],
  ['GET', '/studies/:id'],
  ['PATCH', '/studies/:id'],
  ['DELETE', '/studies/:id'],
  ['POST', '/studies/:id/copies'],
  ['POST', '/studies/:id/cuts'],
  ['PATCH', '/cuts/:id'],
  ['DELETE', '/cuts/:id'],
  ['GET', '/cuts/:id/reading'],
  ['PUT', '/cuts/:id/reading'],
  ['PUT', '/studies/:id/patch'],
  ['GET', '/studies/:id/patch'],
  ['GET', '/studies/:id/revisions'],
  ['GET', '/revisions/:id'],
  ['POST', '/studies/:id/proofs'],
  ['GET', '/proofs/:id'],
  ['GET', '/proofs/:id/audio'],
  ['DELETE', '/proofs/:id'],
  ['POST', '/contents/missing'],
  ['PUT', '/contents/:id'],
  ['GET', '/contents/:id'],
  ['GET', '/shelf/chains'],
  ['POST', '/shelf/chains'],
  ['DELETE', '/shelf/chains/:id'],
  ['GET', '/trash'],
  ['POST', '/trash/study/:id/back'],
  ['DELETE', '/trash/cut/:id'],
  ['POST', '/studies/:id/windows'],
  ['PUT', '/references/:id/overview'],
  ['GET', '/references/:id/audio'],
  ['PUT', '/archive'],
  ['GET', '/archive/replaced'],
  ['GET', '/nothing'],
];

const TYPES = [
  'application/json',
  'application/json; charset=utf-16le',
  'application/json; charset=klingon',
  'multipart/form-data',
  'multipart/form-data; boundary=b',
  'application/octet-stream',
  'text/plain',
  'application/x-www-form-urlencoded',
  '',
  'x',
];

const ENCODINGS = ['', '', '', 'gzip', 'br', 'lzma'];

/** What no request should hold. */
const VALUES: unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  '',
  '\0',
  '\ud800',
  'x'.repeat(5000),
  [],
  {},
  [[[[]]]],
  { __proto__: { x: 1 } },
  { constructor: { prototype: {} } },
  '2026-02-31',
  "'; DROP TABLE studies; --",
];
const FIELDS = [
  'title',
  'note',
  'grid',
  'name',
  'role',
  'fromSeconds',
  'toSeconds',
  'isolation',
  'notes',
  'overrules',
  'patch',
  'changes',
  'base',
  'saveId',
  'revision',
  'id',
  'effects',
  'purpose',
  'sha256s',
  'windowId',
  'reading',
  '__proto__',
];

/** Sends requests that are wrong in some way over every route; each has to be answered, and none by a 5xx. */
export async function requests(url: string, count: number, seed = 3): Promise<boolean> {
  const random = createRandom(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(list.length * random())];
  const ids = await idsOf(url);
  const statuses: Record<string, number> = {};
  const faults: string[] = [];
  const one = async (i: number) => {
    const [method, route] = ROUTES[i % ROUTES.length];
    // What is there is not deleted: the other requests want it.
    const someId = method === 'DELETE' ? pick(OTHER_IDS) : pick([...ids, ...OTHER_IDS]);
    const path = `/api${route.replace(':id', someId)}${random() < 0.1 ? pick(['?again', '?%', '?a[]=1', '/..%2f..', '%00', '/%ff']) : ''}`;
    const body = bodyOf(random, pick);
    const lines = [
      `${method} ${path} HTTP/1.1`,
      `Host: ${new URL(url).host}`,
      'Connection: close',
      ...(random() < 0.9 ? [`Content-Type: ${pick(TYPES)}`] : []),
      ...(random() < 0.3 ? [`Content-Encoding: ${pick(ENCODINGS)}`] : []),
      `Content-Length: ${Buffer.byteLength(body)}`,
    ];
    const status = await send(url, `${lines.join('\r\n')}\r\n\r\n${body}`);
    statuses[status] = (statuses[status] ?? 0) + 1;
    if (status === 'none' || status >= '500')
      faults.push(`${status}: ${lines[0]}, ${lines.slice(3).join(', ')}: ${body.slice(0, 120)}`);
  };
  for (let i = 0; i < count; i += 8)
    await Promise.all(Array.from({ length: Math.min(8, count - i) }, (_, k) => one(i + k)));
  for (const fault of faults.slice(0, 10)) console.log(`  ${fault}`);
  const counted = Object.entries(statuses)
    .sort()
    .map(([status, n]) => `${status}: ${n}`);
  console.log(
    `requests: ${count} over ${ROUTES.length} routes, ${faults.length} faults; answers ${counted.join(', ')}`,
  );
  return faults.length === 0;
}

const OTHER_IDS = [
  randomUUID(),
  '00000000-0000-0000-0000-000000000000',
  'x',
  '%00',
  '%E0%A4%A',
  '..%2f..%2fetc%2fpasswd',
  'null',
  '%27%3B--',
  'a'.repeat(64),
  'a'.repeat(3000),
];

async function idsOf(url: string): Promise<string[]> {
  const studies = (await (await fetch(`${url}/api/studies`)).json()) as { id: string; reference: { id: string } }[];
  const [study] = studies;
  const opened = (await (await fetch(`${url}/api/studies/${study.id}`)).json()) as { cuts: { id: string }[] };
  return [study.id, study.reference.id, ...opened.cuts.map(({ id }) => id)];
}

function bodyOf(random: () => number, pick: <T>(list: readonly T[]) => T): string {
  const form = random();
  if (form < 0.1) return '';
  if (form < 0.2)
    return pick(['{', '[', '"', 'null', '7', '{"a":', '\0\0\0', '{"title":"\\ud800"}', '{"title":"\\u0000"}']);
  if (form < 0.3) {
    const head = `--b\r\nContent-Disposition: form-data; name="${pick(['file', 'proof', 'other', '__proto__', 'a'.repeat(300)])}"`;
    return pick([
      `${head}; filename="a\0.wav"\r\n\r\nRIFF`,
      `${head}\r\n\r\n{}\r\n--b--\r\n`,
      `${head}`,
      `${head}; filename="../../a"\r\n\r\nx\r\n--b--\r\n`,
    ]);
  }
  const object: Record<string, unknown> = {};
  for (let i = 0; i < 6 * random(); i++)
    Object.defineProperty(object, pick(FIELDS), { value: pick(VALUES), enumerable: true, configurable: true });
  return JSON.stringify(object) ?? '';
}

/** The status of an answer; "none" when the connection was closed without one. */
function send(url: string, text: string): Promise<string> {
  return new Promise((resolve) => {
    const socket = connect(Number(new URL(url).port), '127.0.0.1');
    let answer = '';
    const late = setTimeout(() => socket.destroy(), 30_000);
    socket.on('data', (part) => (answer += answer.length < 100 ? part.toString() : ''));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      clearTimeout(late);
      resolve(/^HTTP\/1\.1 (\d+)/.exec(answer)?.[1] ?? 'none');
    });
    socket.write(text);
  });
}
