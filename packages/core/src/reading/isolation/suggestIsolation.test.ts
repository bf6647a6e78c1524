import { LINE_RATE_HZ, lines, renderLine } from '../../../test/lines';
import { createRandom, harmonicTone, saw, sine } from '../../../test/signals';
import { isolationSchema } from './settings';
import { suggestIsolation } from './suggestIsolation';
import { readTone } from '../read';
import { thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 2;
const hz = (midi: number) => 440 * 2 ** ((midi - 69) / 12);
const gain = (db: number) => 10 ** (db / 20);
const rms = (signal: Float32Array) => Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length);

const tone = harmonicTone({ f0Hz: hz(57), seconds: SECONDS, amplitude: saw });

/** A sound brought to so many dB under the tone. */
function beside(sound: Float32Array, db: number): Float32Array {
  const scale = (gain(db) * rms(tone)) / rms(sound);
  return sound.map((x) => scale * x);
}

function hits(every: number, from: number): Float32Array {
  const random = createRandom(5);
  const out = new Float32Array(SECONDS * RATE_HZ);
  for (let at = from; at < SECONDS; at += every) {
    const first = Math.round(at * RATE_HZ);
    for (let i = 0; i < 0.12 * RATE_HZ && first + i < out.length; i++)
      out[first + i] += (2 * random() - 1) * Math.exp(-i / (0.025 * RATE_HZ));
  }
  return out;
}

function chord(midis: readonly number[]): Float32Array {
  const parts = midis.map((midi) => harmonicTone({ f0Hz: hz(midi), seconds: SECONDS, amplitude: saw }));
  return parts[0].map((_, i) => parts.reduce((sum, part) => sum + part[i], 0));
}

const added = (a: Float32Array, b: Float32Array) => a.map((x, i) => x + b[i]);
/** The notes are as a person would have corrected them, if need be. */
const own = readTone({ channels: [tone], sampleRateHz: RATE_HZ });
const suggested = (left: Float32Array, right = left) =>
  suggestIsolation({ channels: [left, right], sampleRateHz: RATE_HZ }, own);

describe('The suggestion of an isolation', () => {
  it.each([
    ['alone', tone],
    ['with noise 30 dB under it', added(tone, beside(hits(0.002, 0), -30))],
    ['with another note 40 dB under it', added(tone, beside(chord([61]), -40))],
  ])('is none for a tone %s', (_, sound) => {
    expect(suggested(sound)).toBeNull();
  });

  it('takes hits down that are none of its notes', () => {
    const found = suggested(added(tone, beside(hits(0.5, 0.25), -10)))!;
    expect(found.isolation).toMatchObject({ hitsDown: true, partialsOnly: true, withSub: false, band: null });
    expect(found.reason).toMatch(/hits, \d+ dB under it/);
  });

  thorough.it('keeps to the partials of a line under drums, whose hits its own reading takes for noise', () => {
    const line = lines.find(({ name }) => name === 'dull plucks, sixteenths')!;
    const { audio } = renderLine({ ...line, beats: [0.5], drumsDb: -3, seconds: 5 });
    const cut = { channels: [audio], sampleRateHz: LINE_RATE_HZ };
    expect(suggestIsolation(cut, readTone(cut))!.isolation).toMatchObject({ hitsDown: true, partialsOnly: true });
  });

  it('keeps to the partials where other notes sound among them, and says how loud those are', () => {
    const found = suggested(added(tone, beside(chord([61, 64, 66]), -8)))!;
    expect(found.isolation).toMatchObject({ partialsOnly: true, hitsDown: false });
    // Some of their partials lie on its own.
    const told = Number(/other notes, (\d+) dB under it/.exec(found.reason)![1]);
    expect(Math.abs(told - 8)).toBeLessThan(4);
  });

  it('cuts off what lies under a tone that has noise of its own', () => {
    const bass = harmonicTone({ f0Hz: hz(40), seconds: SECONDS, amplitude: sine });
    const noisy = { ...own, traits: { ...own.traits, noise: { ...own.traits.noise, levelDb: -20 } } };
    const together = added(tone, beside(bass, -6));
    const { isolation } = suggestIsolation({ channels: [together], sampleRateHz: RATE_HZ }, noisy)!;
    expect(isolation).toMatchObject({ partialsOnly: false, place: { kind: 'all' } });
    expect(isolation.band!.fromHz).toBeGreaterThan(hz(40));
    expect(isolation.band!.fromHz).toBeLessThan(hz(57));
    expect(isolationSchema.parse(isolation)).toEqual(isolation);
  });

  thorough.it('takes noise that is no louder than the other notes for those', () => {
    const together = { channels: [added(tone, beside(chord([61, 64, 66]), -8))], sampleRateHz: RATE_HZ };
    const read = (levelDb: number) => ({
      ...own,
      traits: { ...own.traits, noise: { ...own.traits.noise, levelDb } },
    });
    expect(suggestIsolation(together, read(-6))!.isolation.partialsOnly).toBe(true);
    const softer = { channels: [added(tone, beside(chord([61, 64, 66]), -16))], sampleRateHz: RATE_HZ };
    expect(suggestIsolation(softer, read(-3))!.isolation.partialsOnly).toBe(false);
  });

  it('takes hits down from a tone whose partials are no multiples, and leaves those', () => {
    const metal = { ...own, traits: { ...own.traits, ring: { ...own.traits.ring, rateHz: 90 } } };
    const audio = { channels: [added(tone, beside(hits(0.5, 0.25), -10))], sampleRateHz: RATE_HZ };
    expect(suggestIsolation(audio, metal)!.isolation).toMatchObject({
      character: 'tonal',
      hitsDown: true,
      partialsOnly: false,
    });
    const alone = { channels: [added(tone, beside(chord([61]), -10))], sampleRateHz: RATE_HZ };
    expect(suggestIsolation(alone, metal)).toBeNull();
  });

  thorough.it('keeps a sub with the partials', () => {
    const sub = harmonicTone({ f0Hz: hz(45), seconds: SECONDS, amplitude: sine });
    const whole = added(tone, beside(sub, -6));
    const reading = { ...readTone({ channels: [whole], sampleRateHz: RATE_HZ }), notes: own.notes };
    const audio = { channels: [added(whole, beside(chord([61, 64, 66]), -8))], sampleRateHz: RATE_HZ };
    expect(suggestIsolation(audio, reading)!.isolation).toMatchObject({ partialsOnly: true, withSub: true });
  });

  thorough.it('keeps a sub that was not read, but no other note under the tone', () => {
    const low = (midi: number) => beside(harmonicTone({ f0Hz: hz(midi), seconds: SECONDS, amplitude: sine }), -6);
    const among = (midi: number) => suggested(added(added(tone, low(midi)), beside(hits(0.5, 0.25), -10)))!;
    expect(among(45).isolation).toMatchObject({ partialsOnly: true, withSub: true });
    for (const other of [38, 50]) expect(among(other).isolation).toMatchObject({ partialsOnly: true, withSub: false });
  });

  thorough.it('keeps the middle where only the others are on the sides', () => {
    const sides = beside(chord([61, 64]), -10);
    const { isolation } = suggested(
      added(tone, sides),
      added(
        tone,
        sides.map((x) => -x),
      ),
    )!;
    expect(isolation).toMatchObject({ place: { kind: 'mid' }, partialsOnly: false });
  });
});
