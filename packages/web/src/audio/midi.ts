/** A musical keyboard that sends MIDI: a real one by Web MIDI, or the simulated one that ships with the program. */
export interface MidiSource {
  readonly name: string;
  /** Called with the bytes of every message. Returns what ends it. */
  listen(receive: (bytes: Uint8Array) => void): () => void;
}

export interface MidiHandler {
  noteOn(midi: number, velocity: number): void;
  noteOff(midi: number): void;
}

/** Understands the messages that a keyboard sends (MIDI 1.0, channel voice messages); others are passed over. */
export function handleMidi([status, midi, velocity]: Uint8Array, handler: MidiHandler): void {
  const kind = status & 0xf0;
  if (kind === 0x90 && velocity > 0) handler.noteOn(midi, velocity);
  // A note-on of velocity 0 is a note-off.
  else if (kind === 0x80 || kind === 0x90) handler.noteOff(midi);
}

/** The stand-in for a keyboard on a desk: played from the screen or the computer's keys, it speaks MIDI like a real one. */
export function createSimulatedKeyboard(): MidiSource & {
  press(midi: number, velocity: number): void;
  release(midi: number): void;
} {
  const receivers = new Set<(bytes: Uint8Array) => void>();
  const send = (...bytes: number[]) => receivers.forEach((receive) => receive(Uint8Array.from(bytes)));
  return {
    name: 'Simulated keyboard',
    listen(receive) {
      receivers.add(receive);
      return () => receivers.delete(receive);
    },
    press: (midi, velocity) => send(0x90, midi, velocity),
    release: (midi) => send(0x80, midi, 64),
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
