import { MemoryRouter } from 'react-router';
import { fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { toast } from 'sonner';
import type { Cut, Study } from '@imprint/contract/api';
import { NO_ISOLATION } from '@imprint/core/reading/isolation/settings';
import type { Reading } from '@imprint/core/reading/schema';
import { readingOfSaw } from '../../../test/page';
import { client } from '../../api/client';
import { followCuts } from '../../stores/cuts';
import { closed, useStudyStore } from '../../stores/studyStore';
import { ReadScreen } from './ReadScreen';

// Charts draw on a canvas, which is not here; their words are looked at in the browser tests.
jest.mock('../../drawing/Chart', () => ({
  Chart: ({ label }: { label: string }) => <div role="img" aria-label={label} />,
}));

type Traits = Reading['traits'];

const cut: Cut = {
  id: 'cut-1',
  revision: 1,
  saveId: null,
  name: 'Lone note',
  role: 'long note',
  fromSeconds: 0,
  toSeconds: 0.7,
  isolation: NO_ISOLATION,
  notes: null,
  overrules: {},
};

/** The screen with the reading of a saw, of which some traits are as told. */
function read<K extends keyof Traits>(traits: { [N in K]?: Partial<Traits[N]> } = {}, others: Partial<Reading> = {}) {
  const changed = Object.entries(traits).map(([name, fields]) => [
    name,
    Array.isArray(fields) ? fields : { ...readingOfSaw.traits[name as K], ...(fields as object) },
  ]);
  const reading = {
    ...readingOfSaw,
    ...others,
    traits: { ...readingOfSaw.traits, ...(Object.fromEntries(changed) as Partial<Traits>) },
  };
  const readings = { [cut.id]: reading };
  const study = { id: 'study-1' } as Study;
  useStudyStore.setState({ ...closed, status: 'ready', study, cuts: [cut], cutId: cut.id, readings });
  render(<ReadScreen />);
}
// Roles of a whole screen are slow to look up.
const card = (title: string) => within(document.querySelector<HTMLElement>(`section[aria-label="${title}"]`)!);
const says = (title: string, text: string | RegExp) => expect(card(title).getByText(text)).toBeTruthy();
const valueOf = (title: string, label: string) =>
  card(title).getByText(label, { selector: 'dt' }).nextElementSibling!.textContent!.trim();

describe('What was read of a saw', () => {
  beforeEach(() => read());

  it('is worded as what to set', () => {
    says('Pitch', /Set the octave so that the patch plays A2, and Fine to/);
    says('Loudness', /An envelope with .* attack/);
    says('Unison', 'one voice');
    says('Width', 'one channel');
    expect(Number.parseFloat(valueOf('Pitch', 'Fundamental'))).toBeCloseTo(110, 1);
  });

  it('has each thing that was not found named as such', () => {
    expect(valueOf('Pitch', 'Glide')).toBe('not found');
    expect(valueOf('Space', 'Echo')).toContain('not found');
    expect(valueOf('Dirt', 'Hold')).toBe('not found');
  });

  it('says of one note that it tells nothing of others', () => {
    says('Across the cuts', 'one note tells nothing of others');
  });
});

describe('How sure it is stands beside each trait', () => {
  it.each([
    [0.95, 'sure'],
    [0.7, 'fairly sure'],
    [0.3, 'unsure'],
    [0, 'nothing found'],
  ])('%d is called %s', (confidence, word) => {
    read({ dirt: { confidence } });
    says('Dirt', word);
    expect(card('Dirt').getByTitle(`Confidence ${Math.round(100 * confidence)} %`)).toBeTruthy();
  });

  it('with the reason where there is a doubt', () => {
    read({}, { doubts: { space: 'the end of the note is cut off' } });
    says('Space', 'Not sure: the end of the note is cut off.');
  });
});

describe('Traits in synthesizer terms', () => {
  it('a tone without pitch', () => {
    read({ pitch: { f0Hz: null, midi: null, cents: null, vibrato: null } });
    says('Pitch', 'no pitch found');
    says('Pitch', /A cut with one note alone has a pitch/);
  });

  it('vibrato, a sweep, a glide and a drift', () => {
    read({
      pitch: {
        vibrato: { rateHz: 5.2, depthCents: 31, onsetSeconds: 0.3 } as Traits['pitch']['vibrato'],
        sweep: { semitones: 12, seconds: 0.04 },
        glideSeconds: 0.12,
        driftCents: -9,
      },
    });
    says('Pitch', /It starts \+12 st off and is there after 40 ms: an envelope to pitch\./);
    says('Pitch', /An LFO of 5\.2 Hz moves it by ±31 ct\. Mono with a glide of 120 ms\. It drifts by −9 ct/);
    expect(valueOf('Pitch', 'Vibrato from')).toBe('300 ms');
  });

  it('several voices', () => {
    read({ unison: { detuneCents: 18.04, voices: 5, beatHz: 0.8, confidence: 0.9 } });
    says('Unison', '5 voices over 18 ct');
    says('Unison', 'Set 5 unison voices and a detune of 18 ct in all.');
    expect(card('Unison').getByText('Partial 4 beating')).toBeTruthy();
  });

  it.each([
    ['detune', /spread the unison voices over 200 Hz; keep the rest in the middle/],
    ['delay', /a short delay on one side/],
    ['reverb', /a stereo reverb/],
    ['panning', /pan the source/],
  ] as const)('width that comes from %s', (cause, words) => {
    const bands = [{ fromHz: 500, toHz: 1000, widthDb: -6 }];
    read({ width: { cause, monoBelowHz: 200, bands, correlation: 0.4 } }, { channels: 2 });
    says('Width', 'wide, sides up to −6 dB');
    says('Width', words);
    expect(valueOf('Width', 'Left against right')).toBe('0.40');
  });

  it('an echo, a room, and neither', () => {
    const none = { rt60Seconds: null, preDelaySeconds: null, roomDb: null, echo: null };
    const echo = { seconds: 0.375, division: '1/8.', feedback: 0.42, levelDb: -9, changesSides: true };
    read({ space: { ...none, echo, confidence: 0.9 } });
    says('Space', 'A delay of 375 ms (1/8.) whose feedback keeps 42 %, from either side by turns.');
    expect(valueOf('Space', 'First repeat')).toBe('−9 dB');
    expect(valueOf('Space', 'Feedback')).toBe('42 %');
  });

  it('a room behind the tone', () => {
    read({ space: { rt60Seconds: 1.8, preDelaySeconds: 0.03, echo: null, confidence: 0.8 } });
    says('Space', 'a room of 1.8 s');
    says('Space', /needs 1\.8 s to fall by 60 dB, 30 ms behind the tone/);
  });

  it.each([
    [0.8, 'dry'],
    [0.2, 'cannot be told'],
  ])('nothing of a room, at a confidence of %d: %s', (confidence, words) => {
    read({ space: { rt60Seconds: null, preDelaySeconds: null, roomDb: null, echo: null, confidence } });
    says('Space', words);
  });

  it.each([
    [{ kind: 'soft', amount: 2.31 }, 'soft saturation', /a soft curve; the loudest peaks reach 2\.3 times its knee/],
    [{ kind: 'crush', bits: 9, holdHz: 12000 }, '9 bits, held at 12 kHz', /The sample values themselves are coarse/],
    [{ kind: 'none' }, 'clean', /no shaper is needed/],
    [{ kind: null }, 'cannot be told', /Partials alone may be the source’s own/],
  ] as const)('dirt: %j', (dirt, headline, meaning) => {
    read({ dirt: { amount: null, bits: null, holdHz: null, ...dirt } as Partial<Traits['dirt']> });
    says('Dirt', headline);
    says('Dirt', meaning);
  });

  it.each([
    [{ levelDb: -31, centroidHz: 9000, attackOnly: true }, /A white noise source with a short contour/, 'at the start'],
    [{ levelDb: -40, centroidHz: 1800, attackOnly: false }, /A dark noise source at about −40 dB/, 'throughout'],
  ] as const)('noise: %j', (noise, meaning, when) => {
    read({ noise: { ...noise, confidence: 0.9 } });
    says('Noise', meaning);
    expect(valueOf('Noise', 'When')).toBe(when);
  });

  it('movements, each with its cause, rate and depth in its own unit', () => {
    const motion = [
      { cause: 'phaser', rateHz: 0.25, division: '1/2', depth: 1.5, unit: 'octaves', middle: 700, confidence: 0.8 },
      { cause: 'vibrato', rateHz: 5, division: null, depth: 22, unit: 'cents', middle: null, confidence: 0.6 },
      { cause: 'pulseWidth', rateHz: 1, division: null, depth: 24, unit: '%', middle: 35, confidence: 0.9 },
    ] as unknown as Traits['motion'];
    read({ motion } as never);
    says('Motion', 'phaser, vibrato, pulse width');
    says('Motion', /a phaser: a few notches move over the partials; an LFO to pitch; an LFO to the width of a pulse/);
    expect(valueOf('Motion', 'Rate of phaser')).toBe('0.25 Hz, 1/2');
    expect(valueOf('Motion', 'Depth of phaser')).toBe('1.50 octaves');
    expect(valueOf('Motion', 'Depth of vibrato')).toBe('±22 ct');
    expect(valueOf('Motion', 'Depth of pulse width')).toBe('24 % of a period');
    expect(valueOf('Motion', 'Middle of phaser')).toBe('700 Hz');
    expect(valueOf('Motion', 'Middle of pulse width')).toBe('35 % of a period');
  });

  it('a movement of lows alone with the frequency under which it is', () => {
    const ducking = {
      cause: 'ducking',
      rateHz: 2,
      division: '1/4',
      depth: 9,
      unit: 'dB',
      middle: 400,
      confidence: 0.8,
    };
    read({ motion: [ducking] } as never);
    expect(valueOf('Motion', 'Depth of ducking')).toBe('9.0 dB');
    expect(valueOf('Motion', 'Only below')).toBe('400 Hz');
  });

  it('a filter that falls, with its resonance and what takes the lows', () => {
    read({
      brightness: {
        cutoffHz: 900,
        slopeDbPerOctave: 24,
        resonanceDb: 7,
        highpassHz: 120,
        highpassSlopeDbPerOctave: 12,
        notch: null,
        sweep: { fromHz: 4000, toHz: 600, seconds: 0.3 } as Traits['brightness']['sweep'],
      },
    });
    says(
      'Brightness',
      /A 24 dB low-pass with \+?7 dB of resonance falling from 4 kHz to 600 Hz in 300 ms\. A 12 dB high-pass/,
    );
  });

  it.each([
    [null, /A 12 dB low-pass going round 1\.4 kHz, 3\.12 times a second\./],
    [700, /A 12 dB low-pass going round 700 Hz, 3\.12 times a second\./],
  ])('a filter that goes round, at the middle of its way (%s) or else at its cutoff', (middle, told) => {
    const round = { of: 'brightness', cause: 'filter', rateHz: 3.121, depth: 2.2, unit: 'octaves', confidence: 0.5 };
    const stands = { cutoffHz: 1400, slopeDbPerOctave: 12, resonanceDb: 0, highpassHz: null, notch: null, sweep: null };
    read({ brightness: stands, motion: [{ ...round, middle }] } as never);
    says('Brightness', told);
  });

  it('layers, with their bands and the reason for each', () => {
    read(
      {},
      {
        layers: [
          { name: 'sub', fromHz: 30, toHz: 120, reason: 'it stands in the middle' },
          { name: 'body', fromHz: 120, toHz: 2000, reason: 'it holds most of the sound' },
        ] as Reading['layers'],
      },
    );
    says('Layers', '2 layers: sub, body');
    says('Layers', 'Sub: it stands in the middle.');
    expect(within(card('Layers').getByRole('list')).getAllByRole('listitem')).toHaveLength(2);
  });
});

describe('A value that is set by hand', () => {
  let sent: object[];
  let endFollowing: () => void;
  beforeEach(() => {
    endFollowing = followCuts();
    sent = [];
    jest.spyOn(client, 'changeCut').mockImplementation((_, { saveId, ...changes }) => {
      sent.push(changes);
      return Promise.resolve({ ...cut, ...changes, revision: sent.length + 1, saveId: saveId ?? null });
    });
  });
  afterEach(() => {
    endFollowing();
    jest.restoreAllMocks();
  });

  const type = (text: string) => {
    fireEvent.click(screen.getByLabelText('Overrule attack'));
    const input = screen.getByLabelText('Attack, by hand');
    fireEvent.change(input, { target: { value: text } });
    fireEvent.blur(input);
  };

  it('is kept with the cut, underlined, and the measured one comes back', async () => {
    read();
    const measured = valueOf('Loudness', 'Attack');
    type('35 ms');
    await waitFor(() => expect(sent).toEqual([{ overrules: { attackSeconds: 0.035 }, revision: 1 }]));
    const back = await screen.findByLabelText('Take the measured attack again');
    expect(valueOf('Loudness', 'Attack')).toContain('35 ms');
    fireEvent.click(back);
    // Made on what the server confirmed.
    await waitFor(() => expect(sent[1]).toEqual({ overrules: {}, revision: 2 }));
    expect(await screen.findByText(measured)).toBeTruthy();
  });

  it('is refused out of range, with what would be right', () => {
    const refused = jest.spyOn(toast, 'error').mockReturnValue(1);
    read();
    type('-3 s');
    expect(sent).toEqual([]);
    expect(refused).toHaveBeenCalledWith(expect.stringMatching(/^Attack is a number from .* to .* s$/));
  });
});

it('a cut that was not measured offers to measure it; without a cut the way leads to Listen', () => {
  useStudyStore.setState({ ...closed, status: 'ready', cuts: [cut], cutId: cut.id });
  const { unmount } = render(<ReadScreen />, { wrapper: MemoryRouter });
  expect(screen.getByText('“Lone note” is not measured yet')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Measure only' })).toBeTruthy();
  unmount();
});
