import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { renderPiece } from '../../../test/pieces';
import { createRandom } from '../../../test/signals';
import { decodeAudio } from '../../formats/decode';
import { toMono } from '../audio';
import { findKey, modes } from './key';
import { strengthHopSeconds, strengthLeadSeconds, strengthSteps } from '../notes/onsets';
import { finish } from '../steps';
import { findTempo } from './tempo';
import { some } from '../../../test/thorough';

const RATE = 22050;
const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];
/** Intervals of the church modes as every textbook has them. */
const SCALES = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
};

const random = createRandom(11);
const pieces = Array.from({ length: 9 }, (_, seed) => {
  const mode = (['major', 'minor', 'dorian', 'phrygian', 'lydian', 'mixolydian'] as const)[seed % 6];
  const bpm = Math.round(10 * (62 + 110 * random())) / 10;
  const tonic = Math.floor(12 * random());
  return { seed, mode, bpm, tonic, tuningCents: Math.round(40 * random() - 20), scale: SCALES[mode] };
});
const sounds = pieces.map((piece) => renderPiece(piece));
const leadSeconds = strengthLeadSeconds(RATE);
const hopSeconds = strengthHopSeconds(RATE);

describe('Nine short pieces by formula', () => {
  const tempi = sounds.map((sound) => findTempo(finish(strengthSteps(sound, RATE)), hopSeconds, leadSeconds)!);

  it('tempo within 0.5 % on 90 %, with the octave left open; the true one is among the first two', () => {
    const isNear = (a: number, b: number) => Math.abs(a / b - 1) < 0.005;
    const right = pieces.filter(({ bpm }, i) => [0.5, 1, 2].some((octave) => isNear(tempi[i].bpm, octave * bpm)));
    expect(right.length).toBeGreaterThanOrEqual(8);
    const told = pieces.filter(({ bpm }, i) => [tempi[i].bpm, ...tempi[i].others].some((other) => isNear(other, bpm)));
    expect(told.length).toBeGreaterThanOrEqual(8);
  });

  it('a beat of the grid falls on a beat', () => {
    const off = pieces.map(({ bpm }, i) => {
      const { beatSeconds } = tempi[i];
      const beats = (beatSeconds * bpm) / 60;
      // A tempo that was told an octave up has a grid of half beats.
      return (Math.abs(2 * beats - Math.round(2 * beats)) / 2) * (60 / bpm);
    });
    expect(off.filter((seconds) => seconds < 0.03).length).toBeGreaterThanOrEqual(8);
  });

  it('key with mode on 90 %, tuning within 3 cents', () => {
    const found = sounds.map((sound) => findKey(sound, RATE)!);
    const right = pieces.filter(({ tonic, mode }, i) => {
      const [best] = found[i].candidates;
      return best.tonic === NAMES[tonic] && best.mode === mode;
    });
    expect(right.length).toBeGreaterThanOrEqual(8);
    for (const [i, { tuningCents }] of pieces.entries()) {
      expect(Math.abs(found[i].tuningCents - tuningCents)).toBeLessThan(3);
    }
  });
});

describe('The cues of the demo, made by another synthesizer', () => {
  const folder = join(import.meta.dirname, '../../../../../demo/audio');
  some(1).it.each(['lantern-stairs', 'gull-over-rail', 'harbour-fog', 'clockwork-tide'])(
    '%s: tempo, key and mode',
    async (id) => {
      const truth = JSON.parse(readFileSync(join(folder, `${id}.settings.json`), 'utf8')) as {
        bpm: number;
        key: { tonic: string; mode: string };
      };
      const audio = await decodeAudio(new Uint8Array(readFileSync(join(folder, `${id}.flac`))));
      const mono = toMono(audio);
      const rate = audio.sampleRateHz;
      const strength = finish(strengthSteps(mono, rate));
      const { bpm } = findTempo(strength, strengthHopSeconds(rate), strengthLeadSeconds(rate))!;
      expect(Math.min(...[0.5, 1, 2].map((octave) => Math.abs(bpm / truth.bpm / octave - 1)))).toBeLessThan(0.005);
      const [{ tonic, mode }] = findKey(mono, rate)!.candidates;
      expect({ tonic, mode }).toEqual(truth.key);
    },
  );
});

it('noise has no tempo that is believed, and silence no key', () => {
  const noise = Float32Array.from({ length: 10 * RATE }, () => 0.3 * (2 * random() - 1));
  expect(findTempo(finish(strengthSteps(noise, RATE)), hopSeconds, leadSeconds)?.confidence ?? 0).toBeLessThan(0.3);
  expect(findKey(new Float32Array(RATE), RATE)).toBeUndefined();
  expect(modes).toContain('locrian');
});
