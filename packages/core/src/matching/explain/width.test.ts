import { evidenceOf } from '../../../test/made/evidence';
import { type Signal, hzOf, level, mixed, shaped, twoPole, voicesOf } from '../../../test/made/parts';
import { createRandom } from '../../../test/signals';
import { sidesOverMiddleDb } from '../../engine/sources/unison';
import type { Layer } from '../../patch/schema';
import { patchMadeOf } from './made';
import { explainSources } from './sources';
import { explainWidth } from './width';
import { thorough } from '../../../test/thorough';

const random = createRandom(4);
const voices = () => voicesOf({ seconds: 2, hz: hzOf(57) }, [-12, -6, 0, 6, 12], random);
const held = (signal: Signal) => shaped(signal, level({ attack: 0.02, off: 1.8 }));

function layerOf(left: Signal, right: Signal): Layer {
  const evidence = evidenceOf(held(left), held(right));
  return patchMadeOf([...explainSources(evidence), ...explainWidth(evidence)]).layers[0];
}

/** Of five voices on each side, of which the other side has a share, too. */
function explained(share: number): Layer {
  const [one, other] = [voices(), voices()];
  const lent = (signal: Signal) => signal.map((x) => share * x);
  return layerOf(mixed(one, lent(other)), mixed(other, lent(one)));
}

const spreadOf = ({ sources: [source] }: Layer) => ('unisonSpread' in source ? source.unisonSpread : 0);

thorough.it('voices are spread as far as the sides tell', () => {
  const [wide, narrow] = [explained(0.45), explained(0.7)];
  expect(spreadOf(wide)).toBeGreaterThan(spreadOf(narrow));
  expect(spreadOf(narrow)).toBeGreaterThan(20);
  expect(narrow.effects).toEqual([]);
});

thorough.it('voices of which each side has its own are made wider than panning makes them', () => {
  const layer = explained(0);
  expect(spreadOf(layer)).toBe(100);
  const [sides] = layer.effects;
  expect(sides).toMatchObject({ kind: 'stereo', monoBelowHz: 10 });
  const [source] = layer.sources;
  if (!('width' in sides) || !('unisonVoices' in source)) throw new Error('no voices that are made wider');
  const reachedDb = sidesOverMiddleDb(source.unisonVoices, 1) + 20 * Math.log10(sides.width / 100);
  // Sides that share nothing are as loud as the middle (definition).
  expect(Math.abs(reachedDb)).toBeLessThan(1.5);
});

thorough.it('what both sides share under a frequency stays in the middle', () => {
  const [one, other] = [voices(), voices()];
  const edge = (signal: Signal, kind: 'low' | 'high') =>
    twoPole(
      twoPole(signal, kind, () => 700, Math.SQRT1_2),
      kind,
      () => 700,
      Math.SQRT1_2,
    );
  const lows = edge(one, 'low');
  const layer = layerOf(mixed(lows, edge(one, 'high')), mixed(lows, edge(other, 'high')));
  const sides = layer.effects.find(({ kind }) => kind === 'stereo');
  if (!sides || !('monoBelowHz' in sides)) throw new Error('nothing keeps the lows in the middle');
  expect(sides.monoBelowHz).toBeGreaterThan(250);
  expect(sides.monoBelowHz).toBeLessThan(900);
});
