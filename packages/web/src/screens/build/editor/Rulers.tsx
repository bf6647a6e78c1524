import { formatValue } from '@imprint/core/parameters/format';
import { type Parameter, movedValue } from '@imprint/core/parameters/parameter';
import { type ModuleKind, parameterOf, parametersOf } from '@imprint/core/parameters/table';
import type { Layer, Route } from '@imprint/core/patch/schema';
import { type Measured, Ruler } from '../../../components/Ruler';
import { editModule } from '../../../stores/patchStore';
import { MoveMenu, SharedMoveMenu } from '../movement/MoveMenu';

interface RulersProps {
  layer: Layer;
  moduleId: string;
  kind: ModuleKind;
  values: object;
  measured?: Record<string, Measured | undefined>;
  /** Parameters that mean nothing as the module is set. */
  hidden?: Iterable<string>;
  /** The routes of macros that can reach them, when the module is shared by several layers; those of the layer otherwise. */
  sharedRoutes?: readonly Route[];
  /** When the numbers are not those of a module of the layer. */
  onChange?: (fields: Record<string, number>) => void;
}

/** A ruler for every parameter of a module, in the order of the parameter table, with what routes do to it. */
export function Rulers({
  layer,
  moduleId,
  kind,
  values,
  measured = {},
  hidden = [],
  sharedRoutes,
  onChange,
}: RulersProps) {
  const left = new Set(hidden);
  const change = onChange ?? ((fields) => editModule(layer.id, moduleId, fields));
  return Object.entries(parametersOf(kind))
    .filter(([name]) => !left.has(name))
    .map(([name, parameter]) => (
      <Ruler
        key={name}
        parameter={parameter}
        value={(values as Record<string, number>)[name]}
        measured={measured[name]}
        sweep={sweepOf(sharedRoutes ?? layer.routes, moduleId, kind, name, (values as Record<string, number>)[name])}
        beside={
          parameter.routing &&
          (sharedRoutes ? (
            <SharedMoveMenu moduleId={moduleId} name={name} parameter={parameter} />
          ) : (
            <MoveMenu layer={layer} moduleId={moduleId} name={name} parameter={parameter} />
          ))
        }
        onChange={(value) => change({ [name]: value })}
      />
    ));
}

/** How far active routes carry a parameter, all at their ends together. */
function sweepOf(all: readonly Route[], moduleId: string, kind: ModuleKind, name: string, resting: number) {
  const parameter = parameterOf(kind, name);
  const routes = all.filter(
    ({ on, to, amount }) => on && amount !== 0 && to.moduleId === moduleId && to.parameter === name,
  );
  if (!parameter?.routing || routes.length === 0) return undefined;
  let up = 0;
  let down = 0;
  for (const { amount, polarity } of routes) {
    up += polarity === 'bipolar' ? Math.abs(amount) : Math.max(0, amount);
    down -= polarity === 'bipolar' ? Math.abs(amount) : Math.max(0, -amount);
  }
  return {
    from: movedValue(parameter, resting, down),
    to: movedValue(parameter, resting, up),
    label: sweepWords(parameter, down, up),
  };
}

function sweepWords({ routing }: Parameter, down: number, up: number): string {
  const { unit } = routing!;
  if (down === 0 || up === 0) return `unipolar ${formatValue(up + down, unit)}`;
  return up === -down
    ? `bipolar ±${formatValue(up, unit).replace('+', '')}`
    : `${formatValue(down, unit)} to ${formatValue(up, unit)}`;
}
