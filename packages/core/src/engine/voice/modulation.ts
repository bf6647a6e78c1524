import { gainFromDecibels } from '../../dsp/decibels';
import { SILENT_DB } from '../../parameters/build';
import { type EnvelopeProgram, writeEnvelope } from '../../patch/envelopeCurve';
import type { NoteValue } from '../../patch/schema';
import { contourValue } from '../modulators/contour';
import { type LfoState, advanceLfo, createLfoState, startLfo } from '../modulators/lfo';
import { AMP, type LayerProgram, type ModulatorProgram, type RouteProgram } from '../program/program';
import { hashedRandom } from '../random';

/** What the player moves, 0..1 (bend −1..1), smoothed, the same for all voices. */
export interface Controls {
  wheel: number;
  pressure: number;
  bend: number;
}

/** What the modulators of a voice know of its note. */
export interface ModulatedNote {
  midi: number;
  velocity: number;
  releaseVelocity: number;
  seed: number;
  /** How many notes came before it. */
  index: number;
  /** Time since note-on, and that at which it was let go; infinite while it is held. */
  seconds: number;
  releasedAt: number;
}

/** MIDI's value for a key that was let go by something that does not measure how fast. */
export const DEFAULT_RELEASE_VELOCITY = 64;

/** A note that has not begun yet. */
export const createNote = (): ModulatedNote => ({
  midi: 69,
  velocity: 100,
  releaseVelocity: DEFAULT_RELEASE_VELOCITY,
  seed: 0,
  index: 0,
  seconds: 0,
  releasedAt: Infinity,
});

/**
 * All numbers of a layer as one note has them, moved by its modulators. Allocates nothing after it is made.
 */
export interface Modulation {
  readonly values: Float64Array;
  /** Value 0..1 of every modulator at the time of the last `advance`. */
  readonly levels: Float64Array;
  /** Constants of the amp envelope of this note. */
  ampTimes(program: LayerProgram): EnvelopeProgram;
  /**
   * Takes over a program in the middle of a note: its resting values, and what routes set when the note
   * started.
   */
  adopt(program: LayerProgram, note: ModulatedNote, controls: Controls): void;
  /** @param startSeconds when the note starts on the engine's clock */
  start(program: LayerProgram, note: ModulatedNote, controls: Controls, startSeconds: number): void;
  /** Brings modulators and values to the note's time. */
  advance(program: LayerProgram, note: ModulatedNote, controls: Controls): void;
}

export function createModulation(shape: LayerProgram): Modulation {
  const { length } = shape.slots.base;
  const values = new Float64Array(length);
  const sums = new Float64Array(length);
  /** Value 0..1 of every modulator, and how far each has faded in. */
  const levels = new Float64Array(shape.modulators.length);
  const depths = new Float64Array(shape.modulators.length).fill(1);
  const lfos = shape.modulators.map(({ kind }): LfoState | undefined =>
    kind === 'lfo' ? createLfoState() : undefined,
  );
  /** Of envelopes whose times come from routes: worked out at note-on. */
  const envelopes = shape.modulators.map((modulator): EnvelopeProgram | undefined =>
    modulator.kind === 'envelope' ? { ...modulator.program } : undefined,
  );

  const envelopeOf = (modulator: Extract<ModulatorProgram, { kind: 'envelope' }>, m: number) =>
    modulator.atNoteStart ? envelopes[m]! : modulator.program;

  /**
   * Adds up routes and moves the values that they arrive at. Routes to amounts stand before the routes they
   * belong to.
   */
  function applyRoutes({ slots: { base, min, max, perOctave } }: LayerProgram, routes: readonly RouteProgram[]): void {
    for (let r = 0; r < routes.length; r++) sums[routes[r].slot] = 0;
    for (let r = 0; r < routes.length; r++) {
      const { modulator, slot, amount, amountSlot, bipolar } = routes[r];
      const level = bipolar ? 2 * levels[modulator] - 1 : levels[modulator];
      const sum = sums[slot] + (amountSlot < 0 ? amount : values[amountSlot]) * depths[modulator] * level;
      sums[slot] = sum;
      const moved = perOctave[slot] === 0 ? base[slot] + sum : base[slot] * 2 ** (sum / perOctave[slot]);
      values[slot] = Math.min(max[slot], Math.max(min[slot], moved));
    }
  }

  function adopt(program: LayerProgram, note: ModulatedNote, controls: Controls): void {
    values.set(program.slots.base);
    const { modulators, startRoutes } = program;
    if (startRoutes.length === 0) return;
    for (let m = 0; m < modulators.length; m++) {
      const modulator = modulators[m];
      if (modulator.kind === 'note') levels[m] = noteLevel(modulator.of, modulator.cycle, m, note, controls);
      else if (modulator.kind === 'macro') levels[m] = modulator.value;
    }
    applyRoutes(program, startRoutes);
    for (let m = 0; m < modulators.length; m++) {
      const modulator = modulators[m];
      if (modulator.kind !== 'envelope' || !modulator.atNoteStart) continue;
      setEnvelope(envelopes[m]!, modulator.program, modulator.slots, values);
    }
  }

  function advance(program: LayerProgram, note: ModulatedNote, controls: Controls): void {
    const { modulators } = program;
    for (let m = 0; m < modulators.length; m++) {
      const modulator = modulators[m];
      switch (modulator.kind) {
        case 'envelope':
          writeEnvelope(envelopeOf(modulator, m), note, levels, m);
          break;
        case 'contour':
          levels[m] = 0.5 + 0.5 * contourValue(modulator.program, note.seconds);
          break;
        case 'lfo':
          advanceLfo(modulator.program, lfos[m]!, values, note, m);
          levels[m] = lfos[m]!.smoothed;
          depths[m] = lfos[m]!.depth;
          break;
        case 'note':
          levels[m] = noteLevel(modulator.of, modulator.cycle, m, note, controls);
          break;
        case 'macro':
          levels[m] = modulator.value;
      }
    }
    applyRoutes(program, program.routes);
  }

  return {
    values,
    levels,
    ampTimes({ modulators }) {
      const amp = modulators[AMP];
      if (amp.kind !== 'envelope') throw new Error('The amp contour is always an envelope.');
      return envelopeOf(amp, AMP);
    },
    adopt,
    start(program, note, controls, startSeconds) {
      adopt(program, note, controls);
      for (let m = 0; m < program.modulators.length; m++) {
        const modulator = program.modulators[m];
        if (modulator.kind === 'lfo') startLfo(modulator.program, lfos[m]!, values, startSeconds);
      }
      note.seconds = 0;
      note.releasedAt = Infinity;
      advance(program, note, controls);
    },
    advance,
  };
}

function noteLevel(
  of: NoteValue['of'],
  cycle: number,
  modulator: number,
  note: ModulatedNote,
  controls: Controls,
): number {
  switch (of) {
    case 'velocity':
      return note.velocity / 127;
    case 'key':
      return note.midi / 127;
    case 'random':
      return hashedRandom(note.seed, 500 + modulator, 0);
    case 'counter':
      return (note.index % cycle) / (cycle - 1);
    case 'releaseVelocity':
      return note.releaseVelocity / 127;
    case 'wheel':
      return controls.wheel;
    case 'pressure':
      return controls.pressure;
    case 'bend':
      return 0.5 + 0.5 * controls.bend;
    case 'unison':
      // Read by each unison voice for itself.
      return 0.5;
  }
}

/** Writes an envelope's constants with the times that routes have set. */
function setEnvelope(
  envelope: EnvelopeProgram,
  resting: EnvelopeProgram,
  slots: Readonly<Record<string, number>>,
  values: Float64Array,
): void {
  const sustainDb = values[slots.sustainDb];
  envelope.delaySeconds = values[slots.delaySeconds];
  envelope.attackSeconds = values[slots.attackSeconds];
  envelope.decayStartSeconds = values[slots.attackSeconds] + values[slots.holdSeconds];
  envelope.decaySeconds = values[slots.decaySeconds];
  envelope.sustain = sustainDb <= SILENT_DB ? 0 : gainFromDecibels(sustainDb);
  envelope.releaseSeconds = values[slots.releaseSeconds];
  envelope.attackCurve = resting.attackCurve;
  envelope.decayCurve = resting.decayCurve;
  envelope.releaseCurve = resting.releaseCurve;
  envelope.loop = resting.loop;
}
