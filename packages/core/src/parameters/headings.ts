import { type ModuleKind, parametersOf } from './table';
import type { Parameter } from './parameter';

/** Headings under which the numbers of a module stand on the screen; what has none stands first. */
const headings = [
  '',
  'Tuning',
  'Level and place',
  'Voices',
  'Phase',
  'Loop',
  'Times',
  'Curves',
  'Glide',
  'Wet and level',
] as const;

type Heading = (typeof headings)[number];

const sources: readonly ModuleKind[] = ['shape', 'wavetable', 'partials', 'noise', 'sample'];

/** Of sources and voices. */
const headingOfSource: Readonly<Record<string, Heading>> = {
  octaves: 'Tuning',
  semitones: 'Tuning',
  cents: 'Tuning',
  ratio: 'Tuning',
  fixedHz: 'Tuning',
  rootMidi: 'Tuning',
  driftCents: 'Tuning',
  levelDb: 'Level and place',
  letThrough: 'Level and place',
  pan: 'Level and place',
  widthPercent: 'Level and place',
  unisonVoices: 'Voices',
  unisonDetuneCents: 'Voices',
  unisonSpacing: 'Voices',
  unisonBalance: 'Voices',
  unisonSpread: 'Voices',
  startPhaseCycles: 'Phase',
  startPhaseRandom: 'Phase',
  phaseAmount: 'Phase',
  syncSemitones: 'Phase',
  phaseSteps: 'Phase',
  loopStartSeconds: 'Loop',
  loopEndSeconds: 'Loop',
  crossfadeSeconds: 'Loop',
};

const bands = ['low', 'mid', 'high'] as const;

function headingOf(kind: ModuleKind, name: string): string {
  if (sources.includes(kind)) return headingOfSource[name] ?? '';
  if (kind === 'envelope') return name.endsWith('Curve') ? 'Curves' : 'Times';
  if (kind === 'multiband') {
    const band = bands.find((one) => new RegExp(`^${one}(Down|Up|Out)`).test(name));
    if (band) return `${band[0].toUpperCase()}${band.slice(1)} band`;
  }
  if (kind === 'equalizer') {
    const band = /^band(\d)/.exec(name);
    if (band) return `Band ${band[1]}`;
  }
  return name === 'outputDb' || name === 'mix' ? 'Wet and level' : '';
}

export interface ParameterGroup {
  title: string;
  parameters: [name: string, parameter: Parameter][];
}

/**
 * Parameters of a kind of module under their headings; headings in the order of this table, others where they
 * first come.
 */
export function groupedParameters(kind: ModuleKind): ParameterGroup[] {
  const groups = new Map<string, ParameterGroup>();
  for (const [name, parameter] of Object.entries(parametersOf(kind))) {
    const title = headingOf(kind, name);
    const group = groups.get(title) ?? { title, parameters: [] };
    group.parameters.push([name, parameter]);
    groups.set(title, group);
  }
  const place = ({ title }: ParameterGroup) => {
    const index = (headings as readonly string[]).indexOf(title);
    // Headings of a kind's own stand before those that many have.
    return index === -1 ? 0.5 : index;
  };
  return [...groups.values()].sort((a, b) => place(a) - place(b));
}
