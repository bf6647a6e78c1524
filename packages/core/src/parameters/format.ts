import type { Parameter, Unit } from './parameter';
import { noteName, noteNumber } from '../dsp/pitch';
import { SILENT_DB } from './build';
import { beatsOfDivision } from './division';

/** A value with its unit as people write it: `1.25 kHz`, `−3.0 dB`, `12 ms`, `+7 st`. */
export function formatValue(value: number, unit: Unit): string {
  switch (unit) {
    case 'Hz':
      return value >= 1000 ? `${significant(value / 1000)} kHz` : `${significant(value)} Hz`;
    case 's':
      return value < 1 ? `${significant(Math.round(value * 1e5) / 100)} ms` : `${significant(value)} s`;
    case 'dB':
      return value <= SILENT_DB ? 'silent' : `${signed(value, 1)} dB`;
    case 'st':
    case 'ct':
      return `${signed(value, 1)} ${unit}`;
    case 'octaves':
      return `${signed(value, 2)} oct`;
    case 'cycles':
      return `${significant(360 * value)}°`;
    case 'note':
      return noteText(value);
    case 'BPM':
      return `${Number(value.toFixed(2))} BPM`;
    case '':
      return significant(value);
    default:
      return `${significant(value)} ${unit}`;
  }
}

/** How large a value is, where its sign goes without saying. */
export const formatSize = (value: number, unit: Unit): string => formatValue(value, unit).replace('+', '');

/** The same for a parameter: one that cannot be negative has no sign. */
export function formatParameter({ unit, min }: Pick<Parameter, 'unit' | 'min'>, value: number): string {
  return min >= 0 ? formatSize(value, unit) : formatValue(value, unit);
}

/** A note by its name and, when it lies between two, the cents: `A2 +12 ct`. */
function noteText(midi: number): string {
  const cents = Math.round(100 * (midi - Math.round(midi)));
  return cents === 0 ? noteName(midi) : `${noteName(midi)} ${signed(cents, 0)} ct`;
}

function significant(value: number): string {
  const text = value.toPrecision(3);
  const short = text.includes('e') ? String(Number(text)) : text.includes('.') ? text.replace(/\.?0+$/, '') : text;
  return short.replace('-', '−');
}

function signed(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits).replace(/\.0+$/, '');
  return Number(text) === 0 ? '0' : `${value > 0 ? '+' : '−'}${text}`;
}

const SCALES: Partial<Record<Unit, Record<string, number>>> = {
  Hz: { '': 1, hz: 1, k: 1000, khz: 1000 },
  s: { s: 1, '': 1, ms: 0.001 },
  dB: { '': 1, db: 1 },
  st: { '': 1, st: 1 },
  ct: { '': 1, ct: 1, cents: 1, st: 100 },
  '%': { '': 1, '%': 1 },
  octaves: { '': 1, oct: 1, octaves: 1 },
  cycles: { '': 1 / 360, '°': 1 / 360, deg: 1 / 360, cycles: 1 },
  'dB/oct': { '': 1, 'db/oct': 1, db: 1 },
  BPM: { '': 1, bpm: 1 },
  '': { '': 1 },
};

/**
 * A typed value in a parameter's unit: `350 Hz`, `1.2k`, `-3 dB`, `12 ms`, `silent`; a time at a tempo as
 * `1/16` or `4 bars`, too. Undefined when it cannot be read; values out of range are returned as typed.
 */
export function parseValue(text: string, unit: Unit, bpm?: number): number | undefined {
  const beats = unit === 's' && bpm !== undefined ? beatsOfDivision(text) : undefined;
  if (beats !== undefined) return (beats * 60) / bpm!;
  const clean = text.trim().toLowerCase().replace('−', '-').replace(',', '.');
  if (unit === 'dB' && (clean === 'silent' || clean === '-inf')) return SILENT_DB;
  if (unit === 'note') {
    const named = /^([a-g][#♯b♭]?-?\d)(?:\s*([+-]?\d+) ?ct)?$/.exec(clean);
    if (named) return noteNumber(named[1])! + Number(named[2] ?? 0) / 100;
    return /^\d+(\.\d+)?$/.test(clean) ? Number(clean) : undefined;
  }
  const match = /^([+-]?\d*\.?\d+)\s*([a-z%°/]*)$/.exec(clean);
  if (!match) return undefined;
  const factor = SCALES[unit]?.[match[2]];
  return factor === undefined ? undefined : Number(match[1]) * factor;
}
