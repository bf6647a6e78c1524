import { useDeferredValue, useMemo } from 'react';
import { DECAY_FLOOR_DB, type EffectPicture, effectPicture } from '@imprint/core/engine/effects/picture';
import { divisions } from '@imprint/core/parameters/division';
import { bandKinds, cutSlopes } from '@imprint/core/patch/effectSchema';
import type { Effect, Layer } from '@imprint/core/patch/schema';
import { bandTitles, effectTitles, shaperTitles } from '@imprint/core/patch/words';
import type { Reading } from '@imprint/core/reading/schema';
import { editModule, editPatchEffect, usePatchStore } from '../../stores/patchStore';
import { CurvePicture } from './CurvePicture';
import { Choice, Editor, Tick } from './Editor';
import { Rulers } from './Rulers';
import { measuredEffect } from './measured';

type Set = (fields: Record<string, unknown>) => void;
type EffectOf<K extends Effect['kind']> = Extract<Effect, { kind: K }>;

const purposes: Record<Effect['kind'], string> = {
  equalizer: 'eight bands, one after the other',
  drive: 'a curve, four times oversampled',
  reducer: 'fewer bits, a lower rate',
  compressor: 'evens out what is loud',
  multiband: 'turns down what is loud and up what is soft, in three bands',
  limiter: 'keeps peaks under a ceiling, also between samples',
  chorus: 'late copies whose delays swing',
  delay: 'repeats, either side by a time of its own',
  reverb: 'a room',
  tremolo: 'the level goes up and down, or from side to side',
  stereo: 'level, place and width',
};

/** One effect of a chain: what it does as a picture, its choices, its rulers. */
export function EffectEditor({ layer, effect, reading }: { layer: Layer; effect: Effect; reading: Reading }) {
  const ofPatch = !layer.effects.some(({ id }) => id === effect.id);
  const set: Set = (fields) => (ofPatch ? editPatchEffect(effect.id, fields) : editModule(layer.id, effect.id, fields));
  return (
    <Editor
      title={effectTitles[effect.kind]}
      note={`${purposes[effect.kind]}${ofPatch ? '; on all layers' : ''}`}
      action={<Choices effect={effect} set={set} />}
    >
      <Picture effect={effect} />
      {effect.kind === 'equalizer' && <Bands effect={effect} set={set} />}
      <Rulers
        layer={layer}
        moduleId={effect.id}
        kind={effect.kind}
        values={effect}
        measured={measuredEffect(reading, effect.kind)}
        hidden={hiddenOf(effect)}
        fixed={ofPatch}
        onChange={set}
      />
    </Editor>
  );
}

/** Numbers that mean nothing as the effect is set. */
function hiddenOf(effect: Effect): string[] {
  switch (effect.kind) {
    case 'equalizer':
      return effect.bands.flatMap(({ kind }, i) => {
        const band = `band${i + 1}`;
        if (kind === 'off') return [`${band}Hz`, `${band}Db`, `${band}Q`];
        return kind === 'lowCut' || kind === 'highCut' || kind === 'notch' ? [`${band}Db`] : [];
      });
    case 'delay':
      return [
        ...(effect.leftDivision === null ? [] : ['leftSeconds']),
        ...(effect.rightDivision === null ? [] : ['rightSeconds']),
        ...(effect.pingPong ? ['crossFeedback'] : []),
      ];
    case 'tremolo':
      return effect.division === null ? [] : ['rateHz'];
    default:
      return [];
  }
}

const shapes = { sine: 'sine', triangle: 'triangle', rising: 'rising saw', falling: 'falling saw', square: 'square' };
const detectors = { peak: 'peaks', rms: 'mean power' };
const tones = { before: 'before the curve', behind: 'behind the curve' };

function Choices({ effect, set }: { effect: Effect; set: Set }) {
  switch (effect.kind) {
    case 'drive':
      return (
        <>
          <Choice
            label="Curve"
            className="w-24"
            value={effect.curve}
            titles={shaperTitles}
            onChange={(curve) => set({ curve })}
          />
          <Choice label="Its filter" value={effect.tone} titles={tones} onChange={(tone) => set({ tone })} />
          <Tick label="As loud as before" checked={effect.matchLevel} onChange={(matchLevel) => set({ matchLevel })} />
        </>
      );
    case 'compressor':
      return (
        <>
          <Choice
            label="Hears"
            className="w-28"
            value={effect.detector}
            titles={detectors}
            onChange={(detector) => set({ detector })}
          />
          <Tick label="Makes up" checked={effect.autoMakeUp} onChange={(autoMakeUp) => set({ autoMakeUp })} />
        </>
      );
    case 'tremolo':
      return (
        <>
          <Choice
            label="Shape"
            className="w-28"
            value={effect.shape}
            titles={shapes}
            onChange={(shape) => set({ shape })}
          />
          <Choice
            label="Rate by"
            className="w-24"
            value={effect.division ?? FREE}
            titles={{ ...times, [FREE]: 'in Hz' }}
            onChange={(division) => set({ division: division === FREE ? null : division })}
          />
        </>
      );
    case 'delay':
      return <DelayChoices effect={effect} set={set} />;
    case 'stereo':
      return (
        <>
          <Tick label="Turn left" checked={effect.turnLeft} onChange={(turnLeft) => set({ turnLeft })} />
          <Tick label="Turn right" checked={effect.turnRight} onChange={(turnRight) => set({ turnRight })} />
          <Tick label="Remove DC" checked={effect.removeDc} onChange={(removeDc) => set({ removeDc })} />
        </>
      );
    default:
      return null;
  }
}

const FREE = '';
const times: Record<string, string> = {
  [FREE]: 'in seconds',
  ...Object.fromEntries(divisions.map((division) => [division, division])),
};

function DelayChoices({ effect, set }: { effect: EffectOf<'delay'>; set: Set }) {
  const side = (label: string, name: 'leftDivision' | 'rightDivision') => (
    <Choice
      label={label}
      className="w-24"
      value={effect[name] ?? FREE}
      titles={times}
      onChange={(division) => set({ [name]: division === FREE ? null : division })}
    />
  );
  return (
    <>
      {side('Left by', 'leftDivision')}
      {side('Right by', 'rightDivision')}
      <Tick label="Ping-pong" checked={effect.pingPong} onChange={(pingPong) => set({ pingPong })} />
    </>
  );
}

/** What each band is; its numbers are rulers as everything else. */
function Bands({ effect, set }: { effect: EffectOf<'equalizer'>; set: Set }) {
  const change = (index: number, fields: Partial<(typeof effect.bands)[number]>) =>
    set({ bands: effect.bands.map((band, i) => (i === index ? { ...band, ...fields } : band)) });
  return (
    <div className="grid grid-cols-4 gap-x-4 gap-y-1 py-1" role="group" aria-label="Bands">
      {effect.bands.map(({ kind, slopeDbPerOctave }, index) => (
        <div key={index} className="flex items-center gap-1">
          <span className="figures w-4 text-soft">{index + 1}</span>
          <select
            className="select select-xs min-w-0 grow"
            aria-label={`Band ${index + 1}`}
            value={kind}
            onChange={({ target }) => change(index, { kind: target.value as (typeof bandKinds)[number] })}
          >
            {bandKinds.map((name) => (
              <option key={name} value={name}>
                {bandTitles[name]}
              </option>
            ))}
          </select>
          {(kind === 'lowCut' || kind === 'highCut') && (
            <select
              className="select select-xs w-[58px] shrink-0"
              aria-label={`Slope of band ${index + 1}`}
              value={slopeDbPerOctave}
              onChange={({ target }) =>
                change(index, { slopeDbPerOctave: Number(target.value) as (typeof cutSlopes)[number] })
              }
            >
              {cutSlopes.map((slope) => (
                <option key={slope} value={slope}>
                  {slope} dB
                </option>
              ))}
            </select>
          )}
        </div>
      ))}
    </div>
  );
}

type Axis = Pick<React.ComponentProps<typeof CurvePicture>, 'x' | 'y' | 'marksX' | 'marksY' | 'label'>;

const minus = (text: string) => text.replace('-', '−');
const dbMarks = (levels: readonly number[]) => levels.map((db) => ({ at: db, text: minus(`${db} dB`) }));

const axes: Record<Exclude<EffectPicture['of'], 'decay'>, Axis> = {
  response: {
    label: 'Response over frequency',
    x: [Math.log2(20), Math.log2(20000)],
    y: [-24, 24],
    marksX: [50, 100, 200, 500, 1000, 2000, 5000, 10000].map((hz) => ({
      at: Math.log2(hz),
      text: hz < 1000 ? String(hz) : `${hz / 1000} k`,
    })),
    marksY: dbMarks([-18, -9, 0, 9, 18]),
  },
  curve: {
    label: 'Output over input',
    x: [-1, 1],
    y: [-1.6, 1.6],
    marksX: [-1, 0, 1].map((at) => ({ at, text: minus(String(at)) })),
    marksY: [-1, 0, 1].map((at) => ({ at, text: minus(String(at)) })),
  },
  turn: {
    label: 'Gain over two turns',
    x: [0, 2],
    y: [0, 1.1],
    marksX: [0.5, 1, 1.5].map((at) => ({ at, text: `${at} turn${at === 1 ? '' : 's'}` })),
    marksY: [0, 0.5, 1].map((at) => ({ at, text: `${100 * at} %` })),
  },
  levels: {
    label: 'Level that comes out over level that goes in',
    x: [-60, 0],
    y: [-60, 6],
    marksX: dbMarks([-48, -36, -24, -12]),
    marksY: dbMarks([-48, -24, 0]),
  },
};

function decayAxis(points: EffectPicture['points']): Axis {
  const end = points[points.length - 1].x;
  const step = [0.1, 0.25, 0.5, 1].find((seconds) => end / seconds <= 8) ?? 1;
  const count = Math.floor(end / step);
  return {
    label: 'Level of what follows a click, over time',
    x: [0, end],
    y: [DECAY_FLOOR_DB, 0],
    marksX: Array.from({ length: count }, (_, i) => ({ at: (i + 1) * step, text: `${(i + 1) * step} s` })),
    marksY: dbMarks([-60, -40, -20, 0]),
  };
}

/** Worked out from the effect as it is set; a moment later while a ruler is dragged. */
function Picture({ effect }: { effect: Effect }) {
  const bpm = usePatchStore(({ patch }) => patch!.bpm);
  const settled = useDeferredValue(effect);
  const { of, points } = useMemo(() => effectPicture(settled, bpm), [settled, bpm]);
  const axis = useMemo(() => (of === 'decay' ? decayAxis(points) : axes[of]), [of, points]);
  return <CurvePicture {...axis} points={points} />;
}
