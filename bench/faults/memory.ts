import { writeWav } from '@imprint/core/formats/wav';
import { childrenOf, megabytesOf, readIfThere } from './server';

const RATE = 44100;

/**
 * Takes in many files and deletes them; the memory of the server must stay where it was after the first
 * hundred.
 */
export async function imports(url: string, script: number, count: number): Promise<boolean> {
  const server = childrenOf(script).find((pid) => readIfThere(`/proc/${pid}/cmdline`).includes('server/dist/main'))!;
  let first = 0;
  let most = 0;
  for (let i = 0; i < count; i++) {
    const channel = Float32Array.from({ length: 4 * RATE }, (_, k) => 0.3 * Math.sin(((40 + i) * k) / RATE));
    const form = new FormData();
    const bytes = writeWav({ channels: [channel, channel], sampleRateHz: RATE }, 'int16') as Uint8Array<ArrayBuffer>;
    form.append('file', new Blob([bytes]), `Tone ${i}.wav`);
    const answer = await fetch(`${url}/api/studies`, { method: 'POST', body: form });
    const { study } = (await answer.json()) as { study: { id: string; reference: { id: string } } };
    await (await fetch(`${url}/api/references/${study.reference.id}/audio`)).arrayBuffer();
    await fetch(`${url}/api/studies/${study.id}`, { method: 'DELETE' });
    await fetch(`${url}/api/trash/study/${study.id}`, { method: 'DELETE' });
    const megabytes = megabytesOf(server);
    if (i === Math.min(100, Math.floor(count / 5))) first = megabytes;
    most = Math.max(most, megabytes);
  }
  const last = megabytesOf(server);
  console.log(
    `imports: ${count} files; the server has ${first.toFixed(0)} MB after the first fifth, ${last.toFixed(0)} at the end, ${most.toFixed(0)} at most`,
  );
  return most < 1000 && last < 1.3 * first;
}
