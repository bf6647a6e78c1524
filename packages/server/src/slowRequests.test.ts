import { once } from 'node:events';
import { type AddressInfo, connect } from 'node:net';
import express from 'express';
import { closeSlowBodies, createPatientServer } from './slowRequests';

const PATIENCE_MS = 300;

const app = express();
app.use(closeSlowBodies(PATIENCE_MS), express.raw({ type: '*/*', limit: '10mb' }));
app.post('/', (request, response) => response.json({ bytes: (request.body as Buffer).length }));
const server = createPatientServer(app, PATIENCE_MS);
beforeAll(async () => {
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
});
afterAll(() => server.close());

/**
 * Sends pieces of bytes with a pause between them; gives all that comes back until the connection is closed.
 */
async function send(pieces: readonly string[], pauseMs: number): Promise<string> {
  const socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
  let answer = '';
  socket.on('data', (part) => (answer += part.toString()));
  socket.on('error', () => undefined);
  const closed = new Promise((resolve) => socket.once('close', resolve));
  for (const piece of pieces) {
    if (socket.writable) socket.write(piece);
    await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, pauseMs))]);
  }
  await closed;
  return answer;
}

const head = (bytes: number) =>
  `POST / HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Type: a/b\r\nContent-Length: ${bytes}\r\n\r\n`;

it('closes connections whose headers do not come', async () => {
  expect(await send(['POST / HTTP/1.1\r\nX-More: '], 10)).toMatch(/^(HTTP\/1.1 408|$)/);
});

it('ends requests whose bodies come byte by byte, in words', async () => {
  const answer = await send([head(9000), ...Array<string>(200).fill('x')], 40);
  expect(answer).toContain('408');
  expect(answer).toContain('too slowly');
});

it('waits for a body that takes longer but comes', async () => {
  const piece = 'x'.repeat(100_000);
  // Each piece gives two seconds more; the whole takes twice the time that nothing would have.
  expect(await send([head(4 * piece.length), piece, piece, piece, piece], PATIENCE_MS / 2)).toContain(
    '{"bytes":400000}',
  );
});
