import { type PhraseNote, renderToEnd } from '@imprint/core/engine/render';
import { readMidiFile } from '@imprint/core/formats/midi';
import { writeWav } from '@imprint/core/formats/wav';
import { InputError } from '@imprint/core/patch/inputError';
import { parsePatch } from '@imprint/core/patch/parse';
import { printJson, print, readBytes, readJson, writeFile } from '../files';

interface RenderOptions {
  notes?: string;
  note?: number;
  seconds: number;
  out: string;
  rate: number;
  json?: boolean;
}

export async function render(patchFile: string, options: RenderOptions): Promise<void> {
  const { out, rate } = options;
  if (rate < 8000 || rate > 192000) throw new InputError(`--rate ${rate}: 8000 to 192000 Hz is possible.`);
  const patch = parsePatch(readJson(patchFile));
  const notes = phrase(options);
  const channels = renderToEnd({ patch, notes, sampleRateHz: rate });
  const seconds = channels[0].length / rate;
  writeFile(out, writeWav({ channels, sampleRateHz: rate }, 'float32'));
  if (options.json) printJson({ out, seconds, sampleRateHz: rate, notes: notes.length });
  else print(`${out}: ${seconds.toFixed(2)} s, ${notes.length} note(s), ${rate} Hz, 32-bit float`);
}

function phrase({ notes, note, seconds }: RenderOptions): PhraseNote[] {
  if ((notes === undefined) === (note === undefined)) {
    throw new InputError('Say what to play: either --notes FILE.mid, or --note NUMBER with --seconds S.');
  }
  if (notes !== undefined) return readMidiFile(readBytes(notes));
  if (note! < 0 || note! > 127) throw new InputError(`--note ${note}: MIDI notes run from 0 to 127.`);
  if (!(seconds > 0 && seconds <= 600))
    throw new InputError(`--seconds ${seconds}: more than 0 and up to 600 is possible.`);
  return [{ onsetSeconds: 0, durationSeconds: seconds, midi: note!, velocity: 100 }];
}
