import { adding, byOctaves, bySemitones, linear, log, share } from '../build';
import type { Parameter } from '../parameter';
import { oneOf } from './choices';

/** Numbers and choices that several effects have. */

/** How much of it is heard beside what goes in. */
export const wet = (initial = 100): Parameter => share('Wet', initial, ['loudness']);

/** Level behind an effect, so that one can be heard against its absence fairly. */
export const outputDb = linear('Output', 'dB', [-36, 24], 0, 0.1, ['loudness'], adding('dB', 60));

export const thresholdDb = linear('Threshold', 'dB', [-60, 0], -18, 0.1, ['loudness'], adding('dB', 60));
export const attackSeconds = log('Attack', 's', [0.00002, 0.5], 0.01, 0.00001, ['loudness']);
export const releaseSeconds = log('Release', 's', [0.001, 4], 0.12, 0.001, ['loudness']);
export const lowCut = (initial: number): Parameter =>
  log('Low cut', 'Hz', [10, 2000], initial, 0.1, ['brightness'], bySemitones);
export const highCut = (initial: number): Parameter =>
  log('High cut', 'Hz', [200, 20000], initial, 0.1, ['brightness'], bySemitones);
export const feedback = (initial: number): Parameter =>
  linear('Feedback', '%', [-99, 99], initial, 0.1, ['space', 'motion'], adding('%', 198));
export const rateHz = (initial: number): Parameter =>
  log('Rate', 'Hz', [0.01, 20], initial, 0.01, ['motion'], byOctaves);
export const apartCycles = (initial: number): Parameter =>
  linear('Sides apart', 'cycles', [0, 0.5], initial, 0.01, ['width', 'motion'], adding('cycles', 0.5));
export const toneHz = (initial: number): Parameter =>
  log('Frequency', 'Hz', [0.1, 12000], initial, 0.1, ['partials', 'motion'], bySemitones);
export const semitones = linear('Semitones', 'st', [-24, 24], 0, 0.01, ['pitch', 'partials'], adding('st', 48));
export const monoBelowHz = log('Mono below', 'Hz', [10, 5000], 10, 0.1, ['width']);

/** Whether a frequency is as set, or follows the note that began last. */
export const tuning = oneOf('Frequency', { note: 'follows the note', fixed: 'as set' }, 'note');
