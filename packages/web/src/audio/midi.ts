import type { ControlName } from '@imprint/core/engine/engine';

/**
 * A musical keyboard that sends MIDI: a real one by Web MIDI, or the simulated one that ships with the
 * program.
 */
export interface MidiSource {
  readonly name: string;
  /** Called with the bytes of every message. Returns what ends it. */
  listen(receive: (bytes: Uint8Array) => void): () => void;
}

export interface MidiHandler {
  noteOn(midi: number, velocity: number): void;
  noteOff(midi: number, velocity: number): void;
  /** Wheel and pressure 0..1, bend −1..1. */
  control(control: ControlName, value: number): void;
}

/**
 * Understands the messages that a keyboard sends (MIDI 1.0, channel voice messages); others are passed over.
 */
export function handleMidi([status, first, second]: Uint8Array, handler: MidiHandler): void {
  switch (status & 0xf0) {
    case 0x90:
      // A note-on of velocity 0 is a note-off.
      if (second > 0) handler.noteOn(first, second);
      else handler.noteOff(first, DEFAULT_RELEASE);
      break;
    case 0x80:
      handler.noteOff(first, second);
      break;
    case 0xb0:
      if (first === MODULATION_WHEEL) handler.control('wheel', second / 127);
      break;
    case 0xd0:
      handler.control('pressure', first / 127);
      break;
    case 0xe0: {
      const bend = first + 128 * second - BEND_MIDDLE;
      handler.control('bend', bend / (bend < 0 ? BEND_MIDDLE : BEND_MIDDLE - 1));
    }
  }
}

const DEFAULT_RELEASE = 64;
const MODULATION_WHEEL = 1;
const BEND_MIDDLE = 8192;

/**
 * The stand-in for a keyboard on a desk: played from the screen or the computer's keys, it speaks MIDI like a
 * real one.
 */
export interface SimulatedKeyboard extends MidiSource {
  press(midi: number, velocity: number): void;
  release(midi: number): void;
  /** Wheel and pressure 0..1, bend −1..1. */
  move(control: ControlName, value: number): void;
}

export function createSimulatedKeyboard(): SimulatedKeyboard {
  const receivers = new Set<(bytes: Uint8Array) => void>();
  const send = (...bytes: number[]) => receivers.forEach((receive) => receive(Uint8Array.from(bytes)));
  return {
    name: 'Simulated keyboard',
    listen(receive) {
      receivers.add(receive);
      return () => receivers.delete(receive);
    },
    press: (midi, velocity) => send(0x90, midi, velocity),
    release: (midi) => send(0x80, midi, DEFAULT_RELEASE),
    move(control, value) {
      if (control === 'wheel') send(0xb0, MODULATION_WHEEL, Math.round(127 * value));
      else if (control === 'pressure') send(0xd0, Math.round(127 * value));
      else {
        const bend = Math.min(2 * BEND_MIDDLE - 1, Math.round(BEND_MIDDLE * (1 + value)));
        send(0xe0, bend & 127, bend >> 7);
      }
    },
  };
}

/** The MIDI inputs that the browser knows; none where it has no Web MIDI or the person says no. */
export async function findMidiInputs(): Promise<MidiSource[]> {
  if (!('requestMIDIAccess' in navigator)) return [];
  const access = await navigator.requestMIDIAccess().catch(() => null);
  return [...(access?.inputs.values() ?? [])].map((input) => ({
    name: input.name ?? 'MIDI input',
    listen(receive) {
      const onMessage = ({ data }: MIDIMessageEvent) => data && receive(data);
      input.addEventListener('midimessage', onMessage);
      return () => input.removeEventListener('midimessage', onMessage);
    },
  }));
}
