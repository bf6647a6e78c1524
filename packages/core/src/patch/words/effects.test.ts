import { type EffectKind, effects } from '../../parameters/effects';
import type { Choice } from '../../parameters/effects/choices';
import { addEffect } from '../edits/chains';
import { emptyPatch } from '../defaults';
import { choicesOfEffect, effectDetail, effectWords, hiddenOfEffect } from './effects';
import type { Patch } from '../schema';

const kinds = Object.keys(effects) as EffectKind[];

function withEffect(kind: EffectKind, fields: Record<string, unknown> = {}): [Patch, Patch['effects'][number]] {
  const [patch] = addEffect(emptyPatch(), { of: 'patch' }, kind, fields);
  return [patch, patch.effects[0]];
}

const wordsOf = (kind: EffectKind, fields?: Record<string, unknown>) => {
  const [patch, effect] = withEffect(kind, fields);
  return effectWords(effect, patch);
};

it.each(kinds)('%s says what it is set to, and hides only what it has', (kind) => {
  const [, effect] = withEffect(kind);
  expect(effectDetail(effect).length).toBeGreaterThan(2);
  for (const name of hiddenOfEffect(effect)) expect(effect).toHaveProperty(name);
});

it.each(kinds)('%s tells every choice that counts, and every number', (kind) => {
  const [patch, effect] = withEffect(kind);
  const words = effectWords(effect, patch);
  expect(words.startsWith(`${effects[kind].title}: `)).toBe(true);
  for (const [, choice, value] of choicesOfEffect(effect)) {
    if (choice.of === 'oneOf')
      expect(words).toContain(`${choice.label.toLowerCase()} ${choice.titles[value as string]}`);
    if (choice.of === 'switch') expect(words.includes(choice.label.toLowerCase())).toBe(value);
  }
  for (const [name, { label }] of Object.entries(effects[kind].parameters)) {
    if (!hiddenOfEffect(effect).has(name) && kind !== 'equalizer') expect(words).toContain(label.toLowerCase());
  }
});

describe('In words', () => {
  it('a rate by the tempo stands in place of the rate in Hz', () => {
    const words = wordsOf('tremolo', { division: '1/8' });
    expect(words).toContain('rate by 1/8');
    expect(words).not.toContain('Hz');
  });

  it('lines are told by their points, patterns by their strokes', () => {
    const curve = [
      { x: 0, y: 0 },
      { x: 1, y: 0.5 },
    ];
    expect(wordsOf('ducker', { key: 'drawn', curve, division: '1/2' })).toContain(
      'over 1/2, level over the division 0 → 0; 1 → 0.5',
    );
    expect(wordsOf('ducker')).toContain('strokes in sixteenths 1 5 9 13');
  });

  it('a layer and a sample are told by their names', () => {
    const [patch, effect] = withEffect('compressor', { keyLayerId: 'layer-1' });
    expect(effectWords(effect, patch)).toContain('listens to “Layer 1”');
  });
});

it('every kind of choice is used by some effect', () => {
  const used = new Set(kinds.flatMap((kind) => Object.values<Choice>(effects[kind].choices).map(({ of }) => of)));
  expect([...used].sort()).toEqual([
    'bands',
    'division',
    'layer',
    'line',
    'oneOf',
    'optionalDivision',
    'pattern',
    'sample',
    'switch',
  ]);
});
