import { noteName } from '@imprint/core/dsp/pitch';
import type { Reading } from '@imprint/core/reading/schema';
import { causeInWords } from '@imprint/core/reading/traits/motion/causes';

const show = (value: number | null | undefined, unit: string, digits = 1) =>
  value === null || value === undefined ? 'not found' : `${value.toFixed(digits)} ${unit}`;

const NAME_WIDTH = 12;

/** A reading in words, a line a group, and under it why it is not sure. */
export function readingLines(reading: Reading): string[] {
  const { tempo, key, notes, layers, doubts } = reading;
  const head = `${reading.durationSeconds.toFixed(2)} s, ${reading.channels} channel(s), ${reading.sampleRateHz} Hz, ${notes.length} note(s)`;
  const groups = Object.entries(wordsOf(reading.traits)) as [keyof Reading['traits'], string][];
  return [
    head,
    line('Piece', `${show(tempo.bpm, 'BPM')}, ${key.tonic === null ? 'no key' : `${key.tonic} ${key.mode}`}`),
    ...groups.flatMap(([group, words]) => [
      line(group[0].toUpperCase() + group.slice(1), words),
      ...(doubts[group] ? [line('', `not sure: ${doubts[group]}`)] : []),
    ]),
    ...layers.map(({ name, fromHz, toHz, reason }) =>
      line('Layer', `${name}, ${Math.round(fromHz)} to ${Math.round(toHz)} Hz: ${reason}`),
    ),
  ];
}

const line = (name: string, words: string) => name.padEnd(NAME_WIDTH) + words;

function wordsOf(traits: Reading['traits']): Record<keyof Reading['traits'], string> {
  const { pitch, loudness, brightness, partials, sources, fm, ring, formants, noise, unison } = traits;
  const { width, motion, space, dirt } = traits;
  const join = (...words: (string | false | null)[]) => words.filter(Boolean).join(', ');
  return {
    pitch: join(
      show(pitch.f0Hz, 'Hz', 2),
      pitch.midi !== null && `${noteName(pitch.midi)} ${show(pitch.cents, 'cents')}`,
      pitch.vibrato && `vibrato ${show(pitch.vibrato.rateHz, 'Hz', 2)} by ${show(pitch.vibrato.depthCents, 'cents')}`,
      pitch.sweep && `starts ${show(pitch.sweep.semitones, 'semitones off')} for ${show(pitch.sweep.seconds, 's', 3)}`,
      pitch.glideSeconds !== null && `glide ${show(pitch.glideSeconds, 's', 3)}`,
    ),
    loudness: join(
      show(loudness.lufs, 'LUFS'),
      `attack ${show(loudness.attackSeconds, 's', 3)}`,
      `decay ${show(loudness.decaySeconds, 's', 2)}`,
      `sustain ${show(loudness.sustainDb, 'dB')}`,
      `release ${show(loudness.releaseSeconds, 's', 2)}`,
    ),
    brightness: join(
      `centroid ${show(brightness.centroidHz, 'Hz', 0)}`,
      `cutoff ${show(brightness.cutoffHz, 'Hz', 0)}`,
      brightness.slopeDbPerOctave !== null && `${brightness.slopeDbPerOctave} dB per octave`,
      brightness.resonanceDb !== null && `resonance ${show(brightness.resonanceDb, 'dB')}`,
      brightness.highpassHz !== null && `high-pass ${show(brightness.highpassHz, 'Hz', 0)}`,
      brightness.sweep &&
        `from ${show(brightness.sweep.fromHz, 'Hz', 0)} to ${show(brightness.sweep.toHz, 'Hz', 0)} in ${show(brightness.sweep.seconds, 's', 2)}`,
      brightness.notch &&
        `a notch from ${show(brightness.notch.fromHz, 'Hz', 0)} to ${show(brightness.notch.toHz, 'Hz', 0)}`,
    ),
    partials: join(
      `nearest shape ${partials.nearestShape ?? 'not found'}`,
      `tilt ${show(partials.tiltDbPerOctave, 'dB per octave')}`,
      partials.standout.length > 0 && `standing out ${partials.standout.join(' ')}`,
    ),
    sources:
      sources.parts
        .map(({ shape, semitones, levelDb }) =>
          join(`${shape} at ${show(semitones, 'semitones')}`, show(levelDb, 'dB')),
        )
        .join('; ') || 'not found',
    fm:
      fm.ratio === null
        ? 'not found'
        : join(`carrier ${show(fm.carrierHz, 'Hz', 2)}`, `ratio ${show(fm.ratio, '', 4).trim()}`),
    ring: join(ring.kind && `${ring.kind} at`, show(ring.rateHz, 'Hz', 2)),
    formants:
      formants.peaks.map(({ fromHz, toHz }) => `${Math.round(fromHz)} to ${Math.round(toHz)} Hz`).join('; ') ||
      'not found',
    noise: join(show(noise.levelDb, 'dB against the tone'), noise.attackOnly === true && 'at the start only'),
    unison: join(
      show(unison.detuneCents, 'cents in all'),
      unison.voices !== null && `${unison.voices} voices`,
      unison.beatHz !== null && `beating at ${show(unison.beatHz, 'Hz', 2)}`,
    ),
    width: join(
      `correlation ${show(width.correlation, '', 2).trim()}`,
      width.monoBelowHz !== null && `mono below ${show(width.monoBelowHz, 'Hz', 0)}`,
      width.cause && `by ${width.cause}`,
    ),
    motion:
      motion
        .map(({ cause, of, rateHz, division }) =>
          join(`${causeInWords(cause)} of ${of} at ${show(rateHz, 'Hz', 2)}`, division && `that is ${division}`),
        )
        .join('; ') || 'not found',
    space: join(
      `RT60 ${show(space.rt60Seconds, 's', 2)}`,
      space.preDelaySeconds !== null && `pre-delay ${show(1000 * space.preDelaySeconds, 'ms', 0)}`,
      space.roomDb !== null && `${show(space.roomDb, 'dB', 1)} against the tone`,
      space.echo &&
        `echo every ${show(space.echo.seconds, 's', 3)}, first at ${show(space.echo.levelDb, 'dB', 1)}, with feedback ${show(space.echo.feedback, '', 2).trim()}`,
    ),
    dirt: join(dirt.kind ?? 'not found', dirt.bits !== null && `${dirt.bits} bits`),
  };
}
