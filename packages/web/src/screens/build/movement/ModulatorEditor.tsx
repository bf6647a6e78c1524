import { useMemo, useState } from 'react';
import { divisions } from '@imprint/core/parameters/division';
import { type Envelope, type Layer, type Lfo, type Macro, type Modulator } from '@imprint/core/patch/schema';
import { stageEnds } from '@imprint/core/patch/envelopeCurve';
import { hiddenOfModulator, modulatorWords } from '@imprint/core/patch/words/modulators';
import type { Reading } from '@imprint/core/reading/schema';
import { MAX_NAME } from '@imprint/core/patch/names';
import { editModule, usePatchStore } from '../../../stores/patchStore';
import { Editor } from '../editor/Editor';
import { TempoNote } from '../editor/TempoNote';
import { ContourShape } from './ContourShape';
import { EnvelopeShape, measuredTimes } from './EnvelopeShape';
import { LfoShape } from './LfoShape';
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
      {modulator.kind === 'lfo' && <LfoShape layer={layer} lfo={modulator} onChange={set} />}
      {modulator.kind === 'contour' && <ContourShape layer={layer} contour={modulator} onChange={set} />}
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
        notes={modulator.kind === 'envelope' ? stageEnds(modulator) : undefined}
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
        notes={stageEnds(layer.amp)}
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
