import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { decodeAudio } from '@imprint/core/formats/decode';
import { InputError } from '@imprint/core/patch/inputError';
import { type Audio, durationOf, sliceAudio } from '@imprint/core/reading/audio';

/** The bytes of a file. Throws an InputError that names the file when it cannot be read. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const reason = code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'it is a folder' : String(code);
    throw new InputError(`${path}: ${reason}.`);
  }
}

export function readJson(path: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(readBytes(path)));
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`${basename(path)}: this is not JSON.`);
  }
}

interface Span {
  from?: number;
  to?: number;
}

/** Decodes a sound file, or the span `from..to` of it in seconds. */
export async function readSound(path: string, span: Span = {}): Promise<Audio> {
  return (await readWithWhole(path, span)).audio;
}

/** A span of a sound file, and the whole of it, which tells tempo and key. */
export async function readWithWhole(path: string, span: Span): Promise<{ audio: Audio; whole: Audio }> {
  const bytes = readBytes(path);
  const whole = await decodeAudio(bytes).catch((error: Error) => {
    throw error instanceof InputError ? new InputError(`${basename(path)}: ${error.message}`) : error;
  });
  const seconds = durationOf(whole);
  const { from = 0, to = seconds } = span;
  if (from < 0 || to <= from || from >= seconds) {
    throw new InputError(
      `--from ${from} --to ${to} is no span of this file; it runs from 0 to ${seconds.toFixed(2)} seconds.`,
    );
  }
  if (Math.min(to, seconds) - from < 0.05)
    throw new InputError('The span is shorter than 50 ms, too short to measure.');
  return { audio: sliceAudio(whole, from, to), whole };
}

/** Writes a file, its folder made when missing. */
export function writeFile(path: string, content: string | Uint8Array): void {
  try {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, content);
  } catch (error) {
    throw new InputError(`${path} cannot be written: ${(error as NodeJS.ErrnoException).code}.`);
  }
}

export const printJson = (value: unknown) => process.stdout.write(`${JSON.stringify(value)}\n`);
export const print = (...lines: string[]) => process.stdout.write(`${lines.join('\n')}\n`);
