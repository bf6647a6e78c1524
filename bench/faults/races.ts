import { randomUUID } from 'node:crypto';
import { writeWav } from '@imprint/core/formats/wav';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { createRandom } from '../../packages/core/test/signals';

const RATE = 44100;

/**
 * Does what contradicts itself at the same time: the same file again and again, uploads while the study is
 * deleted, savings into a study that is being deleted. Every request must be done or refused, never broken,
 * and what is left must open.
 */
export async function races(url: string, count: number, seed = 4): Promise<boolean> {
  const random = createRandom(seed);
  const statuses: Record<string, number> = {};
  let faults = 0;
  for (let round = 0; round < count; round++) {
    const f0Hz = 60 + 3000 * random();
    const bytes = writeWav(
      {
        channels: [Float32Array.from({ length: RATE / 2 }, (_, i) => 0.3 * Math.sin((2 * Math.PI * f0Hz * i) / RATE))],
        sampleRateHz: RATE,
      },
      'int16',
    );
    const upload = async (query = '') => {
      const form = new FormData();
      form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), 'same.wav');
      return fetch(`${url}/api/studies${query}`, { method: 'POST', body: form });
    };
    const call = (method: string, path: string, body: object = {}) =>
      fetch(`${url}/api${path}`, {
        method,
        ...(method !== 'GET' && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
      });
    const { study } = (await (await upload()).json()) as { study: { id: string } };
    const cut = { name: 'One', role: 'long note', fromSeconds: 0, toSeconds: 0.4 };
    const saving = () => ({ saveId: randomUUID(), base: null, patch: emptyPatch() });
    const actions = [
      () => upload(),
      () => upload(),
      () => upload('?again'),
      () => call('DELETE', `/studies/${study.id}`),
      () => call('DELETE', `/trash/study/${study.id}`),
      () => call('DELETE', '/trash'),
      () => call('POST', `/trash/study/${study.id}/back`),
      () => call('POST', `/studies/${study.id}/cuts`, cut),
      () => call('PUT', `/studies/${study.id}/patch`, saving()),
      () => call('PUT', `/studies/${study.id}/patch`, saving()),
      () => call('PATCH', `/studies/${study.id}`, { title: 'Other' }),
      () => call('POST', `/studies/${study.id}/copies`, { title: 'Copy', patch: emptyPatch() }),
      () => call('GET', `/studies/${study.id}`),
      () => call('GET', '/studies'),
    ]
      .map((action) => ({ action, at: random() }))
      .sort((a, b) => a.at - b.at)
      .slice(0, 10);
    for (const { status } of await Promise.all(actions.map(({ action }) => action()))) {
      statuses[status] = (statuses[status] ?? 0) + 1;
      if (status >= 500) faults++;
    }
    for (const { id } of (await (await call('GET', '/studies')).json()) as { id: string }[])
      if ((await fetch(`${url}/api/studies/${id}`)).status !== 200) faults++;
    await call('DELETE', '/trash');
  }
  const counted = Object.entries(statuses).map(([status, n]) => `${status}: ${n}`);
  console.log(`races: ${count} of ten requests each, ${faults} faults; answers ${counted.join(', ')}`);
  return faults === 0;
}
