import { plainPatch } from '../../../core/test/patches';
import { createHelper } from '@imprint/core/matching/search/helper';
import { readTone } from '@imprint/core/reading/read';
import { RATE, tone } from '../../test/api';
import { startHelpers } from './helpers';

const audio = { channels: [tone(220)], sampleRateHz: RATE };
const notes = [{ midi: 57, onsetSeconds: 0, durationSeconds: 1, velocity: 100 }];
const cuts = [{ audio, reading: readTone(audio), notes, seed: 1 }];
const patches = [plainPatch('saw'), plainPatch('sine')];

it('hears in another thread what is heard in this one', async () => {
  const {
    helpers: [helper],
    end,
  } = startHelpers(1);
  await helper.begin(cuts);
  await helper.hold({ wavetables: [], samples: [] });
  const heard = await helper.distances(patches, 'half');
  await helper.calibrate(patches[0], 'half');
  const calibrated = await helper.distances(patches, 'half');
  await end();
  const here = createHelper();
  here.begin(cuts);
  expect(heard).toEqual(here.distances(patches, 'half'));
  here.calibrate(patches[0], 'half');
  expect(calibrated).toEqual(here.distances(patches, 'half'));
  expect(heard[0]).not.toBeCloseTo(heard[1], 1);
});

it('does not leave anyone waiting for a thread that has ended', async () => {
  const {
    helpers: [helper],
    end,
  } = startHelpers(1);
  await helper.begin(cuts);
  const asked = helper.distances(patches, 'half');
  await end();
  await expect(asked).rejects.toThrow(/ended before it was done/);
});
