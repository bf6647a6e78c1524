import type { Cue, CueNote, DrumHit } from './cue';

/** *The Lamp Room*, score of an invented stop-motion film about a lighthouse keeper. */
export const score: Cue[] = [bassCue(), leadCue(), padCue(), pluckCue()];

function bassCue(): Cue {
  return {
    id: 'lantern-stairs',
    title: 'Lantern stairs',
    role: 'bass',
    note: 'The keeper climbs to the lamp for the first time.',
    bpm: 96,
    key: { tonic: 'D', mode: 'minor' },
    beats: 36,
    tone: {
      levelDb: -9,
      oscillators: [
        { type: 'sawtooth', semitones: 0, detuneCents: -9, levelDb: -8, pan: -0.3 },
        { type: 'sawtooth', semitones: 0, detuneCents: 0, levelDb: -8, pan: 0 },
        { type: 'sawtooth', semitones: 0, detuneCents: 9, levelDb: -8, pan: 0.3 },
        { type: 'sine', semitones: -12, detuneCents: 0, levelDb: -6, pan: 0 },
      ],
      amp: { attackSeconds: 0.008, decayTau: 0.35, sustain: 0.55, releaseTau: 0.06 },
      filter: {
        restHz: 240,
        peakHz: 2600,
        resonanceDb: 5,
        contour: { attackSeconds: 0.006, decayTau: 0.22, sustain: 0.1, releaseTau: 0.08 },
      },
      drive: 2.2,
    },
    melody: notes([
      [0, 2.6, 38],
      [4, 1.2, 38],
      [5.5, 0.7, 41],
      [6.5, 1.2, 36],
      [8, 2.6, 34],
      ...repeat(12, 6, 4, [
        [0, 0.9, 38],
        [1, 0.45, 38],
        [1.75, 0.9, 41],
        [3, 0.8, 36],
      ] as const),
    ]),
    companion: chords([
      [16, 8, [62, 65, 69]],
      [24, 8, [58, 62, 65]],
    ]),
    companionLevelDb: -30,
    drums: beat(12, 34),
    exposed: { fromBeat: 0, toBeat: 3.8, name: 'First low D' },
  };
}

function leadCue(): Cue {
  return {
    id: 'gull-over-rail',
    title: 'Gull over the rail',
    role: 'lead',
    note: 'A gull steals the keeper’s breakfast.',
    bpm: 118,
    key: { tonic: 'A', mode: 'dorian' },
    beats: 40,
    tone: {
      levelDb: -12,
      oscillators: [
        { type: 'square', semitones: 0, detuneCents: 0, levelDb: -8, pan: 0 },
        { type: 'sawtooth', semitones: 0, detuneCents: 6, levelDb: -11, pan: 0.2 },
        { type: 'sawtooth', semitones: 12, detuneCents: -5, levelDb: -16, pan: -0.2 },
      ],
      amp: { attackSeconds: 0.03, decayTau: 0.4, sustain: 0.8, releaseTau: 0.07 },
      filter: {
        restHz: 1400,
        peakHz: 5200,
        resonanceDb: 3,
        contour: { attackSeconds: 0.02, decayTau: 0.3, sustain: 0.35, releaseTau: 0.1 },
      },
      drive: 1.6,
      vibrato: { rateHz: 5.4, depthCents: 28, fadeInSeconds: 0.7 },
      glideSeconds: 0.045,
      echo: { beats: 0.75, feedback: 0.3, mix: 0.16 },
    },
    melody: notes([
      [2, 4.2, 69],
      [8, 1, 72],
      [9, 0.5, 74],
      [9.5, 1.5, 76],
      [11, 0.5, 74],
      [12, 2.4, 71],
      ...repeat(16, 3, 8, [
        [0, 1.5, 69],
        [1.5, 0.5, 72],
        [2, 1.5, 74],
        [4, 1, 76],
        [5, 0.5, 78],
        [5.5, 1.6, 74],
      ] as const),
    ]),
    companion: [
      ...chords([
        [16, 8, [57, 60, 64]],
        [24, 8, [55, 59, 62]],
        [32, 7, [57, 60, 66]],
      ]),
    ],
    companionLevelDb: -29,
    drums: beat(16, 38),
    exposed: { fromBeat: 1.9, toBeat: 7.9, name: 'Held A' },
  };
}

function padCue(): Cue {
  return {
    id: 'harbour-fog',
    title: 'Harbour in fog',
    role: 'pad',
    note: 'The harbour disappears, one lamp after the other.',
    bpm: 72,
    key: { tonic: 'F', mode: 'major' },
    beats: 28,
    tone: {
      levelDb: -15,
      oscillators: [-14, -9, -4, 4, 9, 14].map((detuneCents, i) => ({
        type: 'sawtooth' as const,
        semitones: 0,
        detuneCents,
        levelDb: -13,
        pan: (i % 2 ? 1 : -1) * 0.7,
      })),
      amp: { attackSeconds: 0.55, decayTau: 1.2, sustain: 0.75, releaseTau: 0.32 },
      filter: {
        restHz: 700,
        peakHz: 2300,
        resonanceDb: 1,
        contour: { attackSeconds: 1.1, decayTau: 1.4, sustain: 0.4, releaseTau: 0.5 },
      },
      drive: 1.2,
      chorus: { delaySeconds: 0.018, depthSeconds: 0.003, rateHz: 0.6, mix: 0.5 },
    },
    melody: notes([
      [0.25, 4.4, 53],
      ...[8, 16].flatMap(
        (at) =>
          [
            [at, 3.6, 53],
            [at, 3.6, 60],
            [at, 3.6, 65],
            [at + 4, 3.6, 58],
            [at + 4, 3.6, 62],
            [at + 4, 3.6, 65],
          ] as [number, number, number][],
      ),
    ]),
    companion: notes([
      [9, 1, 77],
      [11, 1, 76],
      [13, 2, 74],
      [17, 1, 77],
      [19, 1, 79],
      [21, 2, 72],
    ]),
    companionLevelDb: -26,
    drums: beat(8, 24, -16),
    exposed: { fromBeat: 0, toBeat: 7.8, name: 'Single F' },
  };
}

function pluckCue(): Cue {
  return {
    id: 'clockwork-tide',
    title: 'Clockwork tide',
    role: 'pluck',
    note: 'The mechanism starts to turn.',
    bpm: 104,
    key: { tonic: 'E', mode: 'phrygian' },
    beats: 32,
    tone: {
      levelDb: -9,
      oscillators: [
        { type: 'sawtooth', semitones: 0, detuneCents: -4, levelDb: -8, pan: -0.15 },
        { type: 'triangle', semitones: 0, detuneCents: 4, levelDb: -5, pan: 0.15 },
        { type: 'square', semitones: 12, detuneCents: 0, levelDb: -18, pan: 0 },
      ],
      amp: { attackSeconds: 0.003, decayTau: 0.16, sustain: 0.02, releaseTau: 0.09 },
      filter: {
        restHz: 320,
        peakHz: 6500,
        resonanceDb: 6,
        contour: { attackSeconds: 0.002, decayTau: 0.07, sustain: 0.05, releaseTau: 0.05 },
      },
      drive: 1.8,
      noise: { levelDb: -22, decaySeconds: 0.012 },
      echo: { beats: 0.75, feedback: 0.35, mix: 0.14 },
    },
    melody: notes([
      [0.5, 0.5, 64],
      [4, 0.4, 64],
      [4.75, 0.4, 65],
      [5.5, 0.4, 67],
      [6.5, 0.4, 64],
      ...repeat(8, 6, 4, [
        [0, 0.4, 64],
        [0.75, 0.4, 71],
        [1.5, 0.4, 67],
        [2, 0.4, 65],
        [2.75, 0.4, 64],
        [3.5, 0.4, 62],
      ] as const),
    ]),
    companion: chords([
      [8, 8, [52, 59]],
      [16, 8, [53, 60]],
      [24, 7, [52, 59]],
    ]),
    companionLevelDb: -27,
    drums: beat(8, 31),
    exposed: { fromBeat: 0.4, toBeat: 3.9, name: 'Lone E' },
  };
}

function notes(rows: readonly (readonly [beat: number, beats: number, midi: number])[]): CueNote[] {
  return rows.map(([beat, beats, midi]) => ({ beat, beats, midi, velocity: 0.8 }));
}

function chords(rows: [beat: number, beats: number, pitches: number[]][]): CueNote[] {
  return rows.flatMap(([beat, beats, pitches]) => notes(pitches.map((midi) => [beat, beats, midi] as const)));
}

function repeat(
  start: number,
  times: number,
  beats: number,
  pattern: readonly (readonly [number, number, number])[],
): [number, number, number][] {
  return Array.from({ length: times }, (_, i) =>
    pattern.map(([beat, length, midi]) => [start + i * beats + beat, length, midi] as [number, number, number]),
  ).flat();
}

function beat(from: number, to: number, levelDb = -10): DrumHit[] {
  const hits: DrumHit[] = [];
  for (let at = from; at < to; at += 0.5) {
    const inBar = (at - from) % 4;
    if (inBar % 2 === 0) hits.push({ beat: at, kind: 'kick', levelDb });
    if (inBar === 1 || inBar === 3) hits.push({ beat: at, kind: 'snare', levelDb: levelDb - 4 });
    hits.push({ beat: at, kind: 'hat', levelDb: levelDb - (inBar % 1 === 0 ? 14 : 10) });
  }
  return hits;
}
