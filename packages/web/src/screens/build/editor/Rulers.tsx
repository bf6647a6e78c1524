import type { ReactNode } from 'react';
import { formatSize, formatValue } from '@imprint/core/parameters/format';
import { type Parameter, movedValue } from '@imprint/core/parameters/parameter';
import { type ParameterGroup, groupedParameters } from '@imprint/core/parameters/headings';
import { type ModuleKind, parameterOf } from '@imprint/core/parameters/table';
import { modulesOf } from '@imprint/core/patch/modules';
import type { Layer, Route } from '@imprint/core/patch/schema';
import { LockButton } from '../../../components/LockButton';
import { type Measured, Ruler } from '../../../components/Ruler';
import { editModule } from '../../../stores/patchStore';
import { Fold } from '../../../components/Fold';
import { MoveMenu, SharedMoveMenu } from '../movement/MoveMenu';

interface RulersProps {
  layer: Layer;
  moduleId: string;
  kind: ModuleKind;
  values: object;
  measured?: Record<string, Measured | undefined>;
  /** What is written under some, as they are set. */
  notes?: Readonly<Record<string, string>>;
  /** Parameters that mean nothing as the module is set. */
  hidden?: Iterable<string>;
  /**
   * The routes of macros that can reach them, when the module is shared by several layers; those of the layer
   * otherwise.
   */
  sharedRoutes?: readonly Route[];
  /** When the numbers are not those of a module of the layer. */
  onChange?: (fields: Record<string, number>) => void;
}

/**
 * A ruler for every parameter of a module, in two columns under headings, with what routes do to it. Headings
 * fold; those under which anything is set, read or moved are open at first.
 */
export function Rulers(props: RulersProps) {
  const { kind, values, measured = {}, hidden = [], moduleId, sharedRoutes, layer } = props;
  const left = new Set(hidden);
  const routes = sharedRoutes ?? layer.routes;
  const numbers = values as Record<string, number>;
  const groups = groupedParameters(kind)
    .map(({ title, parameters }) => ({ title, parameters: parameters.filter(([name]) => !left.has(name)) }))
    .filter(({ parameters }) => parameters.length > 0);
  const bands = groups.filter(({ title }) => title.endsWith(' band'));
  const inUse = ([name, parameter]: [string, Parameter]) =>
    numbers[name] !== parameter.default ||
    measured[name] !== undefined ||
    routes.some(({ to }) => to.moduleId === moduleId && to.parameter === name);
  return (
    <div className="space-y-1">
      {groups.map(({ title, parameters }, index) => {
        const rows = parameters.map(([name, parameter]) => (
          <RulerOf key={name} {...props} name={name} parameter={parameter} />
        ));
        if (title === '') return <Columns key={title}>{rows}</Columns>;
        if (title.endsWith(' band')) return title === bands[0].title && <Bands key={title} {...props} bands={bands} />;
        const open = !FOLDED_AT_FIRST.has(title) || index === 0 || parameters.some(inUse);
        return (
          <Fold key={title} id={`${kind} ${title}`} title={title} open={open}>
            <Columns>{rows}</Columns>
          </Fold>
        );
      })}
    </div>
  );
}

const Columns = ({ children }: { children: ReactNode }) => (
  <div className="grid grid-cols-2 gap-x-8 gap-y-[2px]">{children}</div>
);

/** What is the same for several bands, side by side; the heading says which band it is. */
function Bands({ bands, ...props }: RulersProps & { bands: readonly ParameterGroup[] }) {
  return (
    <div className="grid grid-cols-3 gap-x-6">
      {bands.map(({ title, parameters }) => (
        <section key={title}>
          <h3 className="hairline-b py-[2px] font-bold text-soft">{title}</h3>
          {parameters.map(([name, parameter]) => (
            <RulerOf key={name} {...props} name={name} parameter={parameter} shown={withoutBand(parameter.label)} />
          ))}
        </section>
      ))}
    </div>
  );
}

/** `Low, ratio down` under the heading of its band: `Ratio down`. */
function withoutBand(label: string): string {
  const rest = label.replace(/^\w+, /, '');
  return rest[0].toUpperCase() + rest.slice(1);
}

function RulerOf({
  layer,
  moduleId,
  kind,
  values,
  measured = {},
  sharedRoutes,
  onChange,
  name,
  parameter,
  notes,
  shown,
}: RulersProps & { name: string; parameter: Parameter; shown?: string }) {
  const change = onChange ?? ((fields) => editModule(layer.id, moduleId, fields));
  const value = (values as Record<string, number>)[name];
  return (
    <Ruler
      parameter={parameter}
      shown={shown}
      note={notes?.[name]}
      value={value}
      measured={measured[name]}
      sweep={sweepOf(sharedRoutes ?? layer.routes, moduleId, kind, name, value)}
      beside={
        <>
          {parameter.routing &&
            (sharedRoutes ? (
              <SharedMoveMenu moduleId={moduleId} name={name} parameter={parameter} />
            ) : (
              <MoveMenu layer={layer} moduleId={moduleId} name={name} parameter={parameter} />
            ))}
          {!sharedRoutes && modulesOf(layer).some(({ id }) => id === moduleId) && (
            <LockButton lockable={{ layerId: layer.id, moduleId, parameter: name }} title={parameter.label} />
          )}
        </>
      }
      onChange={(next) => change({ [name]: next })}
    />
  );
}

/** Headings that are folded until something under them is used. */
const FOLDED_AT_FIRST: ReadonlySet<string> = new Set(['Voices', 'Phase', 'Loop', 'Curves']);

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
  return up === -down ? `bipolar ±${formatSize(up, unit)}` : `${formatValue(down, unit)} to ${formatValue(up, unit)}`;
}
