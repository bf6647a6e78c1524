import type { Deck } from '../audio/deck';
import { transport, useTransport } from './transportStore';

/** A deck that writes down what it is told. */
function notedDeck() {
  const told: unknown[][] = [];
  const note =
    (name: string) =>
    (...values: unknown[]) =>
      told.push([name, ...values]);
  const deck = {
    positionSeconds: 1.5,
    play: note('play'),
    stop: note('stop'),
    setLoop: note('loop'),
    setSide: note('side'),
    setGains: note('gains'),
    close: note('close'),
  } as unknown as Deck;
  return { deck, told, last: (name: string) => told.findLast(([other]) => other === name)?.slice(1) };
}

const span = { fromSeconds: 2, toSeconds: 3 };
let noted: ReturnType<typeof notedDeck>;
beforeEach(() => {
  noted = notedDeck();
  transport.attach(noted.deck);
  useTransport.setState({ looping: true, equalLoudness: true });
});

it('plays from the cut when it loops, from the cursor when it does not', () => {
  transport.setSpan(span);
  transport.play();
  expect(noted.last('play')).toEqual([2]);
  expect(noted.last('loop')).toEqual([span]);
  transport.setLooping(false);
  transport.stop();
  expect(useTransport.getState().cursorSeconds).toBe(1.5);
  transport.play();
  expect(noted.last('play')).toEqual([1.5]);
  expect(noted.last('loop')).toEqual([null]);
});

it('leaves the loop when the cursor is set outside it while playing', () => {
  transport.setSpan(span);
  transport.play();
  transport.seek(2.5);
  expect(useTransport.getState().looping).toBe(true);
  transport.seek(10);
  expect(useTransport.getState().looping).toBe(false);
  expect(noted.last('play')).toEqual([10]);
});

it('flips to and fro', () => {
  transport.flip();
  expect(noted.last('side')).toEqual(['patch']);
  transport.flip();
  expect(noted.last('side')).toEqual(['reference']);
});

it.each([6, -6])('at equal loudness with %i dB between the two the louder one is turned down', (matchDb) => {
  transport.setLoudnessMatch(matchDb);
  const [reference, patch] = noted.last('gains') as [number, number];
  expect(Math.max(reference, patch)).toBe(1);
  expect(20 * Math.log10(patch / reference)).toBeCloseTo(matchDb, 6);
  transport.setEqualLoudness(false);
  expect(noted.last('gains')).toEqual([1, 1]);
});

it('closes the deck that it lets go', () => {
  transport.attach(null);
  expect(noted.last('close')).toEqual([]);
  transport.toggle();
  expect(useTransport.getState().playing).toBe(false);
});
