import type { SourceProgram } from '../program/program';
import { type NoiseState, createNoiseState, renderNoise, startNoise } from './noise';
import { type SampleState, createSampleState, renderSample, startSample } from './sample';
import type { SourceContext } from './source';
import { type TonalState, createTonalState, renderTonal, startTonal } from './tonal';

export type SourceState = TonalState | NoiseState | SampleState;

/** What one note has to remember of a source. */
export function createSourceState({ kind }: SourceProgram): SourceState {
  switch (kind) {
    case 'tonal':
      return createTonalState();
    case 'noise':
      return createNoiseState();
    case 'sample':
      return createSampleState();
  }
}

/** Starts a source with a note. A state belongs to one source, so both are always of one kind. */
export function startSource(program: SourceProgram, state: SourceState, index: number, context: SourceContext): void {
  if (program.kind === 'tonal' && state.kind === 'tonal') startTonal(program, state, index, context);
  else if (program.kind === 'noise' && state.kind === 'noise') startNoise(program, state, index, context);
  else if (program.kind === 'sample' && state.kind === 'sample') startSample(program, state, context);
}

/** Adds a block of a source at the plain rate. */
export function renderSource(program: SourceProgram, state: SourceState, context: SourceContext): void {
  if (program.kind === 'tonal' && state.kind === 'tonal') renderTonal(program, state, context);
  else if (program.kind === 'noise' && state.kind === 'noise') renderNoise(program, state, context);
  else if (program.kind === 'sample' && state.kind === 'sample') renderSample(program, state, context);
}
