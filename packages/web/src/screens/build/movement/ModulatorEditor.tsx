import { useMemo, useState } from 'react';
import { bendThrough, compileLfo, shapeAt } from '@imprint/core/engine/modulators/lfo';
import { formatValue } from '@imprint/core/parameters/format';
import { divisions } from '@imprint/core/parameters/division';
import {
  type Contour,
  type Envelope,
  type Layer,
  type Lfo,
  type Macro,
  type Modulator,
} from '@imprint/core/patch/schema';
import { lfoShapeTitles } from '@imprint/core/parameters/shapes';
import { hiddenOfModulator, modulatorWords } from '@imprint/core/patch/modulators';
import type { Reading } from '@imprint/core/reading/schema';
import { MAX_NAME } from '@imprint/core/patch/names';
import type { Bend } from '../../../drawing/BendHandle';
import { PaintEditor } from '../../../drawing/PaintEditor';
import { PointEditor } from '../../../drawing/PointEditor';
import { editModule, usePatchStore } from '../../../stores/patchStore';
import { Choice, Editor } from '../editor/Editor';
import { TempoNote } from '../editor/TempoNote';
import { EnvelopeShape, measuredTimes } from './EnvelopeShape';
import { RouteList } from './RouteList';
import { Rulers } from '../editor/Rulers';
import { measuredAmp } from '../editor/measured';

/** One modulator: its shape, its times, and where it goes. */
export function ModulatorEditor({ layer, modulator }: { layer: Layer; modulator: Modulator }) {
  const set = (fields: Record<string, unknown>) => editModule(layer.id, modulator.id, fields);
  return (
    <Editor
      title={modulator.name}
      note={modulator.kind === 'lfo' ? '' : modulatorWords(modulator)}
      action={
        <>
          {modulator.kind === 'envelope' && <LoopChoice envelope={modulator} onChange={set} />}
          {modulator.kind === 'lfo' && <LfoChoices lfo={modulator} onChange={set} />}
          <NameField key={modulator.id} name={modulator.name} onChange={(name) => set({ name })} />
        </>
      }
    >
      <RouteList layer={layer} origin={modulator} />
      {modulator.kind === 'envelope' && <EnvelopeShape envelope={modulator} onChange={set} />}
      {modulator.kind === 'lfo' && <LfoShape lfo={modulator} onChange={set} />}
      {modulator.kind === 'contour' && <ContourShape contour={modulator} onChange={set} />}
      {modulator.kind === 'note' && modulator.of === 'counter' && (
        <label className="flex items-center gap-2 py-1">
          Starts over after
          <input
            type="number"
            className="input input-xs figures w-16"
            min={2}
            max={32}
            value={modulator.cycle}
            onChange={({ target }) => set({ cycle: Math.max(2, Math.min(32, Math.round(Number(target.value)) || 2)) })}
          />
          notes
        </label>
      )}
      <Rulers
        layer={layer}
        moduleId={modulator.id}
        kind={modulator.kind}
        values={modulator}
        hidden={hiddenOfModulator(modulator)}
      />
    </Editor>
  );
}

/** The amp contour, with what was measured. */
export function AmpEditor({ layer, reading }: { layer: Layer; reading: Reading }) {
  const measured = useMemo(() => measuredTimes(reading), [reading]);
  const set = (fields: Record<string, unknown>) => editModule(layer.id, layer.amp.id, fields);
  return (
    <Editor
      title="Amp contour"
      note="level of every note of this layer"
      action={<LoopChoice envelope={layer.amp} onChange={set} />}
    >
      <EnvelopeShape envelope={layer.amp} measured={measured} onChange={set} />
      <Rulers
        layer={layer}
        moduleId={layer.amp.id}
        kind="envelope"
        values={layer.amp}
        measured={measuredAmp(reading)}
      />
    </Editor>
  );
}

/** A macro of the patch, as this layer is moved by it. */
export function MacroEditor({ layer, macro }: { layer: Layer; macro: Macro }) {
  const change = (fields: Partial<Macro>) =>
    usePatchStore.getState().edit((patch) => ({
      ...patch,
      macros: patch.macros.map((other) => (other.id === macro.id ? { ...other, ...fields } : other)),
    }));
  return (
    <Editor
      title={macro.name}
      note="a macro of the whole patch"
      action={<NameField key={macro.id} name={macro.name} onChange={(name) => change({ name })} />}
    >
      <Rulers layer={layer} moduleId={macro.id} kind="macro" values={macro} onChange={change} />
      <RouteList layer={layer} origin={macro} />
    </Editor>
  );
}

/** A name that is taken over when the field is left. */
function NameField({ name, onChange }: { name: string; onChange: (name: string) => void }) {
  const [typed, setTyped] = useState(name);
  return (
    <input
      className="input input-xs w-32"
      aria-label="Name"
      maxLength={MAX_NAME}
      value={typed}
      onChange={({ target }) => setTyped(target.value)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      onBlur={() => (typed.trim() ? typed.trim() !== name && onChange(typed.trim()) : setTyped(name))}
    />
  );
}

function LoopChoice({ envelope, onChange }: { envelope: Envelope; onChange: (fields: { loop: boolean }) => void }) {
  return (
    <label className="flex items-center gap-1 text-soft">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={envelope.loop}
        onChange={({ target }) => onChange({ loop: target.checked })}
      />
      loop while held
    </label>
  );
}

const IN_HZ = 'in Hz';
const runs = { loop: 'goes round', oneShot: 'runs once' };
const restarts = { note: 'with every note', free: 'runs on' };

function LfoChoices({ lfo, onChange }: { lfo: Lfo; onChange: (fields: Partial<Lfo>) => void }) {
  return (
    <>
      <select
        className="select select-xs w-24"
        aria-label="Rate by"
        value={lfo.division ?? IN_HZ}
        onChange={({ target }) => onChange({ division: target.value === IN_HZ ? null : target.value })}
      >
        <option>{IN_HZ}</option>
        {divisions.map((division) => (
          <option key={division}>{division}</option>
        ))}
      </select>
      {lfo.division !== null && <TempoNote />}
      <select
        className="select select-xs w-28"
        aria-label="Runs"
        value={lfo.run}
        onChange={({ target }) => onChange({ run: target.value as Lfo['run'] })}
      >
        {Object.entries(runs).map(([run, title]) => (
          <option key={run} value={run}>
            {title}
          </option>
        ))}
      </select>
      <select
        className="select select-xs w-32"
        aria-label="Starts"
        value={lfo.restart}
        onChange={({ target }) => onChange({ restart: target.value as Lfo['restart'] })}
      >
        {Object.entries(restarts).map(([restart, title]) => (
          <option key={restart} value={restart}>
            {title}
          </option>
        ))}
      </select>
    </>
  );
}

const TURN_POINTS = 200;
const NO_SLOTS = { rateHz: 0, startPhaseCycles: 0, delaySeconds: 0, fadeInSeconds: 0, smoothing: 0 };

/** One turn of an LFO; a shape that is not drawn becomes one when its points are moved. */
function LfoShape({ lfo, onChange }: { lfo: Lfo; onChange: (fields: Partial<Lfo>) => void }) {
  const curve = useMemo(() => {
    const program = compileLfo(lfo, 120, NO_SLOTS);
    return Array.from({ length: TURN_POINTS }, (_, i) => ({
      x: i / TURN_POINTS,
      y: shapeAt(program, i / TURN_POINTS, 1),
    }));
  }, [lfo]);
  const drawn = lfo.shape === 'drawn';
  return (
    <>
      <Choice label="Shape" value={lfo.shape} titles={lfoShapeTitles} onChange={(shape) => onChange({ shape })} />
      <PointEditor
        label="One turn of the LFO"
        points={drawn ? lfo.points.map(({ at, value, bend }) => ({ x: at, y: value, bend })) : []}
        curve={curve}
        x={[0, 1]}
        y={[0, 1]}
        maxPoints={64}
        describe={({ x, y }) => `at ${(360 * x).toFixed(0)}°: ${(100 * y).toFixed(0)} %`}
        onChange={(points) =>
          onChange({
            shape: 'drawn',
            points: points.map(({ x, y, bend }) => ({ at: x, value: y, bend: bend ?? 0 })),
          })
        }
        bends={drawn ? bendsOf(lfo, onChange) : []}
      />
    </>
  );
}

/** Stretches flatter than this have nothing to bend. */
const LEAST_RISE = 0.02;

/** The stretches between the points of a drawn turn, the last of which leads over to the first. */
function bendsOf(lfo: Lfo, onChange: (fields: Partial<Lfo>) => void): Bend[] {
  const program = compileLfo(lfo, 120, NO_SLOTS);
  return lfo.points.flatMap(({ at, value }, i) => {
    const over = i === lfo.points.length - 1;
    const next = lfo.points[over ? 0 : i + 1];
    if (Math.abs(next.value - value) < LEAST_RISE) return [];
    const x = ((at + next.at + (over ? 1 : 0)) / 2) % 1;
    return {
      x,
      y: shapeAt(program, x, 1),
      from: value,
      to: next.value,
      title: `Bend behind point ${i + 1}`,
      onBend: (share) =>
        onChange({
          points: lfo.points.map((point, n) =>
            n === i ? { ...point, bend: Math.round(100 * bendThrough(share)) } : point,
          ),
        }),
    };
  });
}

/** Contours of few points are drawn by them, long measured ones are painted. */
const HANDLED_POINTS = 48;

function ContourShape({ contour, onChange }: { contour: Contour; onChange: (fields: Partial<Contour>) => void }) {
  const { points } = contour;
  const length = points[points.length - 1].seconds;
  const describe = (seconds: number, value: number) => `at ${formatValue(seconds, 's')}: ${(100 * value).toFixed(0)} %`;
  if (points.length > HANDLED_POINTS) {
    return (
      <PaintEditor
        as="line"
        label="Contour over the note"
        values={points.map(({ value }) => value)}
        range={[-1, 1]}
        describe={(i, value) => describe(points[i]?.seconds ?? 0, value)}
        onChange={(values) => onChange({ points: points.map((point, i) => ({ ...point, value: values[i] })) })}
      />
    );
  }
  return (
    <PointEditor
      label="Contour over the note"
      points={points.map(({ seconds, value }) => ({ x: seconds, y: value }))}
      x={[0, Math.max(0.1, 1.1 * length)]}
      y={[-1, 1]}
      maxPoints={HANDLED_POINTS}
      describe={({ x, y }) => describe(x, y)}
      onChange={(edited) => onChange({ points: edited.map(({ x, y }) => ({ seconds: x, value: y })) })}
    />
  );
}
