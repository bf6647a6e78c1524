import { parametersOf } from '../../parameters/table';
import { sourcePatch } from '../../../test/patches';
import type { Patch, Source } from '../schema';
import { phaseShapes, sourceSchema } from '../schemas/sourceSchema';
import { wavetableFromSamples } from '../contents/wavetableFrames';
import { heardOfSource, hiddenOfSource, plainSourceTitle, toldOfSource, withPhaseShape } from './sources';

const source = (fields: Record<string, unknown>): Source => sourceSchema.parse({ id: 'source-1', ...fields });
const shape = (fields: Record<string, unknown> = {}) => source({ kind: 'shape', shape: 'saw', ...fields });

const kinds: readonly Source[] = [
  shape(),
  source({ kind: 'wavetable', wavetableId: 'table-1' }),
  source({ kind: 'partials', levelsDb: [0, -6, -12] }),
  source({ kind: 'noise' }),
  source({ kind: 'sample', sampleId: 'sample-1' }),
];

describe.each(kinds)('Of a source of the kind $kind', (own) => {
  it('only numbers that it has are hidden', () => {
    const numbers = Object.keys(parametersOf(own.kind));
    for (const name of hiddenOfSource(own)) if (name !== 'octaves') expect(numbers).toContain(name);
  });

  it('some numbers are left', () => {
    const hidden = hiddenOfSource(own);
    expect(Object.keys(parametersOf(own.kind)).filter((name) => !hidden.includes(name)).length).toBeGreaterThan(3);
  });

  it('there is something to hear', () => {
    expect(heardOfSource(own)).not.toBe('');
    expect(heardOfSource({ ...own, levelDb: -96 })).toMatch(/nothing yet/);
  });
});

it('shows what unison does once there are voices', () => {
  const detune = 'unisonDetuneCents';
  expect(hiddenOfSource(shape())).toContain(detune);
  expect(hiddenOfSource(shape({ unisonVoices: 5 }))).not.toContain(detune);
  expect(heardOfSource(shape({ unisonVoices: 5 }))).toMatch(/beating/);
});

it('shows the frequency, the ratio or the octaves, whichever counts', () => {
  const tuned = ['fixedHz', 'ratio', 'octaves'];
  const left = (tuning: string) => tuned.filter((name) => !hiddenOfSource(shape({ tuning })).includes(name));
  expect([left('fixed'), left('ratio'), left('note')]).toEqual([['fixedHz'], ['ratio'], ['octaves']]);
  expect(toldOfSource(shape({ tuning: 'fixed' }))[0]).toMatch(/fixed/);
  expect(toldOfSource(shape())).toEqual([]);
});

it('shows the width where there is a pulse, or a saw on the way to one', () => {
  const hasWidth = (fields: Record<string, unknown>) => !hiddenOfSource(shape(fields)).includes('pulseWidth');
  expect(hasWidth({ shape: 'pulse' })).toBe(true);
  expect(hasWidth({ shape: 'saw', morph: 40 })).toBe(true);
  expect(hasWidth({ shape: 'saw' })).toBe(false);
  expect(hasWidth({ shape: 'sine' })).toBe(false);
});

describe.each(phaseShapes)('With time within the period "%s"', (phaseShape) => {
  it('one number at most does it, and it does something at once', () => {
    const own = shape();
    if (own.kind !== 'shape') throw new Error('not a shape');
    const shaped = { ...own, ...withPhaseShape(own, phaseShape) };
    const numbers = ['phaseAmount', 'syncSemitones'].filter((name) => !hiddenOfSource(shaped).includes(name));
    expect(numbers.length).toBe(phaseShape === 'none' ? 0 : 1);
    if (numbers[0] === 'phaseAmount') expect(shaped.phaseAmount).not.toBe(0);
    expect(toldOfSource(shaped).length).toBe(phaseShape === 'none' ? 0 : 1);
  });

  it('an amount that was set stays', () => {
    const own = shape({ phaseAmount: 12 });
    if (own.kind !== 'shape') throw new Error('not a shape');
    expect({ ...own, ...withPhaseShape(own, phaseShape) }.phaseAmount).toBe(12);
  });
});

describe('What a source is called', () => {
  const patch: Patch = {
    ...sourcePatch({ kind: 'shape', shape: 'saw' }),
    wavetables: [{ ...wavetableFromSamples('table-1', 'Foghorn', new Float32Array(2048)) }],
  };

  it('is what it plays', () => {
    expect(plainSourceTitle(shape())).toBe('Saw');
    expect(plainSourceTitle(kinds[1], patch)).toBe('Foghorn');
  });

  it('is its kind where it plays nothing that has a name', () => {
    expect(plainSourceTitle(kinds[1])).toBe('Wavetable');
    expect(plainSourceTitle(source({ kind: 'wavetable', wavetableId: 'gone' }), patch)).toBe('Wavetable');
    expect(plainSourceTitle(kinds[2])).toBe('Partials');
  });
});

it('tells where it goes unless that is the first filter', () => {
  expect(toldOfSource(shape({ into: 'past' }))).toEqual(['into past the filters']);
  expect(toldOfSource(source({ kind: 'noise', restart: 'note' }))).toEqual(['the same for every note']);
});
