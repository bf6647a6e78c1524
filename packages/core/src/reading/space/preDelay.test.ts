import { times, voices } from '../../../test/effects';
import { measureEnvelopes } from '../partials/partialEnvelopes';
import { findPreDelay } from './preDelay';

it('is told of no note that was taken to begin and end within silence', () => {
  const late = times(voices({ f0Hz: 220, seconds: 1 }), (t) => (t > 0.5 ? 1 : 0));
  const envelopes = measureEnvelopes(late, 44100, 220, { mostPartials: 12 });
  expect(findPreDelay(envelopes, 0.05, 0.3)).toBeUndefined();
});
