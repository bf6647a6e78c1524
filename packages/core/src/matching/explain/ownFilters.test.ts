import { evidenceOf } from '../../../test/made/evidence';
import { scaled } from '../../../test/made/madeTone';
import { falling, hzOf, level, mixed, shaped, square, tone, twoPole, voicesOf } from '../../../test/made/parts';
import { createRandom } from '../../../test/signals';
import { patchMadeOf } from './made';
import { explainOwnFilters } from './ownFilters';
import { some, thorough } from '../../../test/thorough';

const HZ = hzOf(35);
const SECONDS = 1.2;
const held = (signal: Float64Array) => shaped(signal, level({ decay: 0.8, sustain: 0.6, off: 0.95 }));
const closing = (signal: Float64Array) => twoPole(signal, 'low', falling(24 * HZ, 4 * HZ, 0.17), 1.2);
const saw = tone({ seconds: SECONDS, hz: HZ });
const bite = tone({ seconds: SECONDS, hz: 2 * HZ, amplitude: square, phase: 0.2 });

describe('A saw that a filter closes over and a square that stays bright', () => {
  const duller = twoPole(bite, 'low', () => 1800, 0.8);
  const ways = explainOwnFilters(evidenceOf(held(mixed(closing(saw), scaled(duller, 0.5)))));

  it('are sources behind a filter each', () => {
    const [layer] = patchMadeOf(ways[0]).layers;
    expect(layer.filterOrder).toBe('parallel');
    expect(layer.sources).toMatchObject([
      { shape: 'saw', semitones: 0, into: 'first' },
      { shape: 'pulse', semitones: 12, into: 'second' },
    ]);
    const [moving, standing] = layer.filters as { on: boolean; cutoffHz: number }[];
    expect([moving.on, standing.on]).toEqual([true, true]);
    expect(Math.abs(Math.log2(standing.cutoffHz / 1800))).toBeLessThan(1 / 3);
    expect(Math.abs(Math.log2(moving.cutoffHz / (4 * HZ)))).toBeLessThan(1 / 3);
    expect(layer.routes.map(({ to }) => to)).toEqual([{ moduleId: 'filter-1', parameter: 'cutoffHz' }]);
  });

  it('may have a sine under them, which their first partial does not tell', () => {
    const sines = ways.map((way) => patchMadeOf(way).layers[0].sources.filter(({ name }) => name === 'body sine'));
    expect(sines.map(({ length }) => length)).toContain(1);
    for (const [source] of sines.filter(({ length }) => length > 0)) expect(source.into).toBe('past');
  });
});

thorough.it('a source that is not filtered goes past the filters', () => {
  const [way] = explainOwnFilters(evidenceOf(held(mixed(closing(saw), scaled(bite, 0.3)))));
  const [layer] = patchMadeOf(way).layers;
  expect(layer.sources[1].into).toBe('past');
  expect(layer.filters[1].on).toBe(false);
});

some(2).it.each([
  ['one filter over two sources', closing(mixed(saw, scaled(bite, 0.5)))],
  [
    'a sine and a saw that a filter closes over',
    mixed(closing(saw), scaled(tone({ seconds: SECONDS, hz: HZ, amplitude: (n) => Number(n === 1) }), 0.8)),
  ],
  ['sources that stand still', mixed(saw, scaled(bite, 0.5))],
  ['a triangle', tone({ seconds: SECONDS, hz: HZ, amplitude: (n) => (n % 2) / n ** 2 })],
  ['voices that beat', closing(voicesOf({ seconds: SECONDS, hz: HZ }, [-12, 0, 12], createRandom(3)))],
])('%s need no second filter', (_, signal) => {
  expect(explainOwnFilters(evidenceOf(held(signal)))).toEqual([]);
});
