import { type MidiEvent, parseMidi, writeMidi } from 'midi-file';
import type { PhraseNote } from '../engine/render';
import { InputError } from '../patch/inputError';

const TICKS_PER_BEAT = 960;

/** Writes a phrase as a Standard MIDI File, format 0, at a tempo (120 BPM when none is known). */
export function writeMidiFile(notes: readonly PhraseNote[], bpm = 120): Uint8Array {
  const ticks = (seconds: number) => Math.round((seconds * bpm * TICKS_PER_BEAT) / 60);
  const timed = notes.flatMap(({ onsetSeconds, durationSeconds, midi, velocity }) => {
    const noteNumber = Math.round(midi);
    return [
      { at: ticks(onsetSeconds), event: { type: 'noteOn', channel: 0, noteNumber, velocity } },
      { at: ticks(onsetSeconds + durationSeconds), event: { type: 'noteOff', channel: 0, noteNumber, velocity: 0 } },
    ] as const;
  });
  // At the same tick an end comes before a beginning, so that a repeated note is heard.
  timed.sort((a, b) => a.at - b.at || (a.event.type === 'noteOff' ? -1 : 1));
  let now = 0;
  const track: MidiEvent[] = [
    { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / bpm) },
    ...timed.map(({ at, event }): MidiEvent => {
      const deltaTime = at - now;
      now = at;
      return { deltaTime, ...event };
    }),
    { deltaTime: 0, meta: true, type: 'endOfTrack' },
  ];
  return Uint8Array.from(
    writeMidi({ header: { format: 0, numTracks: 1, ticksPerBeat: TICKS_PER_BEAT }, tracks: [track] }),
  );
}

/**
 * Reads the notes of all tracks of a Standard MIDI File, tempo changes followed.
 * Throws an InputError when it is none, or holds no notes.
 */
export function readMidiFile(bytes: Uint8Array): PhraseNote[] {
  const midi = (() => {
    try {
      return parseMidi(bytes);
    } catch {
      throw new InputError('This is not a Standard MIDI File.');
    }
  })();
  const ticksPerBeat = midi.header.ticksPerBeat;
  if (!ticksPerBeat)
    throw new InputError('This MIDI file counts in film frames; files that count in beats can be read.');
  const events = midi.tracks.flatMap((track) => {
    let tick = 0;
    return track.map((event) => ({ tick: (tick += event.deltaTime), event }));
  });
  events.sort((a, b) => a.tick - b.tick);
  const notes: PhraseNote[] = [];
  const open = new Map<string, PhraseNote>();
  let seconds = 0;
  let lastTick = 0;
  let secondsPerTick = 0.5 / ticksPerBeat;
  for (const { tick, event } of events) {
    seconds += (tick - lastTick) * secondsPerTick;
    lastTick = tick;
    if (event.type === 'setTempo') secondsPerTick = event.microsecondsPerBeat / 1e6 / ticksPerBeat;
    if (event.type !== 'noteOn' && event.type !== 'noteOff') continue;
    const key = `${event.channel}.${event.noteNumber}`;
    const sounding = open.get(key);
    if (sounding) {
      sounding.durationSeconds = seconds - sounding.onsetSeconds;
      open.delete(key);
    }
    if (event.type === 'noteOn' && event.velocity > 0) {
      const note = { onsetSeconds: seconds, durationSeconds: 0, midi: event.noteNumber, velocity: event.velocity };
      open.set(key, note);
      notes.push(note);
    }
  }
  for (const note of open.values()) note.durationSeconds = Math.max(0, seconds - note.onsetSeconds);
  if (notes.length === 0) throw new InputError('This MIDI file holds no notes.');
  return notes;
}
