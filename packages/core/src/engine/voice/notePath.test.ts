import { sourcePatch } from '../../../test/patches';
import { RATE, note, play } from '../../../test/playing';
import { amplitudeAt } from '../../../test/signals';

describe('Where sources go', () => {
  /** A sine at 110 and one at 880 Hz; the first filter takes highs away, the second lows. */
  function routed(into: [string, string], filterOrder: 'series' | 'parallel' = 'series') {
    const patch = sourcePatch(
      { kind: 'shape', shape: 'sine', tuning: 'fixed', fixedHz: 110, into: into[0] },
      { kind: 'shape', shape: 'sine', tuning: 'fixed', fixedHz: 1760, into: into[1] },
    );
    const [layer] = patch.layers;
    layer.filterOrder = filterOrder;
    Object.assign(layer.filters[0], { on: true, cutoffHz: 300 });
    Object.assign(layer.filters[1], { on: true, cutoffHz: 600 });
    const [signal] = play(patch, [note(0, 9, 60)], 1);
    return [110, 1760].map((hz) => amplitudeAt(signal, RATE, hz) > 0.5);
  }
  it('in series everything of the first filter also goes through the second', () => {
    expect(routed(['first', 'first'])).toEqual([false, false]);
    expect(routed(['first', 'second'])).toEqual([false, true]);
    expect(routed(['past', 'past'])).toEqual([true, true]);
  });
  it('in parallel each goes its own way', () => {
    expect(routed(['first', 'second'], 'parallel')).toEqual([true, true]);
    expect(routed(['second', 'first'], 'parallel')).toEqual([false, false]);
    expect(routed(['both', 'both'], 'parallel')).toEqual([true, true]);
  });
});
