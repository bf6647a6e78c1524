import { createSimulatedKeyboard, findMidiInputs, handleMidi } from './midi';

function played(bytes: number[][]) {
  const heard: string[] = [];
  const handler = {
    noteOn: (midi: number, velocity: number) => heard.push(`on ${midi} ${velocity}`),
    noteOff: (midi: number, velocity: number) => heard.push(`off ${midi} ${velocity}`),
    control: (control: string, value: number) => heard.push(`${control} ${value.toFixed(2)}`),
  };
  bytes.forEach((message) => handleMidi(Uint8Array.from(message), handler));
  return heard;
}

describe('MIDI messages (MIDI 1.0, channel voice messages)', () => {
  it('are understood on every channel', () => {
    expect(
      played([
        [0x90, 60, 100],
        [0x9f, 61, 1],
        [0x80, 60, 64],
      ]),
    ).toEqual(['on 60 100', 'on 61 1', 'off 60 64']);
  });
  it('a note-on of velocity 0 is a note-off', () => expect(played([[0x90, 60, 0]])).toEqual(['off 60 64']));
  it('wheel, pressure and bend over their whole range', () => {
    expect(
      played([
        [0xb0, 1, 127],
        [0xd0, 0],
        [0xe0, 0, 64],
        [0xe0, 127, 127],
        [0xe0, 0, 0],
      ]),
    ).toEqual(['wheel 1.00', 'pressure 0.00', 'bend 0.00', 'bend 1.00', 'bend -1.00']);
  });
  it('others are passed over', () => expect(played([[0xb0, 7, 64], [0xf8], [0xc0, 3]])).toEqual([]));
});

it('the simulated keyboard speaks MIDI to all who listen, until they stop', () => {
  const keyboard = createSimulatedKeyboard();
  const first: number[][] = [];
  const second: number[][] = [];
  const stop = keyboard.listen((bytes) => first.push([...bytes]));
  keyboard.listen((bytes) => second.push([...bytes]));
  keyboard.press(48, 90);
  stop();
  keyboard.release(48);
  expect(first).toEqual([[0x90, 48, 90]]);
  expect(second).toEqual([
    [0x90, 48, 90],
    [0x80, 48, 64],
  ]);
});

it('there are no inputs where the browser has no Web MIDI', async () => {
  Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
  expect(await findMidiInputs()).toEqual([]);
});
