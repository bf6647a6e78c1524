import { useEffect, useRef, useState } from 'react';
import { formatSize, formatValue } from '@imprint/core/parameters/format';
import { clampToRange } from '@imprint/core/parameters/parameter';
import { parameterOf } from '@imprint/core/parameters/table';
import { type ChainOwner, chainOf } from '@imprint/core/patch/edits/chains';
import type { Effect } from '@imprint/core/patch/schema';
import type { EffectLevels } from '../../../audio/deck';
import { usePatchStore } from '../../../stores/patchStore';
import { useTransport } from '../../../stores/transportStore';
import type { SetFields } from './EffectChoices';

/** Softer than this nothing can be said of levels, −70 dB. */
const LEAST_POWER = 1e-7;
const LOOK_MS = 100;

/**
 * The number of an effect that sets how loud it comes out; undefined for those whose job is the level itself.
 */
function outputOf(effect: Effect): string | undefined {
  return ['outputDb', 'makeUpDb', 'gainDb'].find((name) => parameterOf(effect.kind, name) !== undefined);
}

/**
 * How loud it is before and behind an effect while something plays, what it takes off, and one click that
 * makes both as loud.
 */
export function GainStage({ owner, effect, set }: { owner: ChainOwner; effect: Effect; set: SetFields }) {
  const levels = useLevels(owner, effect.id);
  const heard = levels !== null && levels.powerIn > LEAST_POWER && levels.powerOut > LEAST_POWER;
  const output = outputOf(effect);
  const match = () => {
    if (!heard || output === undefined) return;
    const parameter = parameterOf(effect.kind, output)!;
    const now = (effect as unknown as Record<string, number>)[output];
    const wanted = now - 10 * Math.log10(levels.powerOut / levels.powerIn);
    set({ [output]: Math.round(10 * clampToRange(parameter, wanted)) / 10 });
  };
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-soft" role="group" aria-label="Levels">
      {heard ? (
        <>
          <span>
            in <b className="figures font-normal text-base-content">{decibels(levels.powerIn)}</b>
          </span>
          <span>
            out <b className="figures font-normal text-base-content">{decibels(levels.powerOut)}</b>
          </span>
          {levels.reductionDb > 0.05 && <Reduction db={levels.reductionDb} />}
          {levels.peakOut > 1 && <span className="font-bold text-error">over full scale</span>}
        </>
      ) : (
        <span>Levels stand here while the patch plays.</span>
      )}
      {output !== undefined && (
        <button
          type="button"
          className="btn btn-xs btn-outline font-normal"
          disabled={!heard || !effect.on}
          title="Sets its output so that it comes out as loud as it goes in"
          onClick={match}
        >
          Match levels
        </button>
      )}
    </div>
  );
}

const FULL_REDUCTION_DB = 24;

/** What it takes off now, as a bar from the right. */
function Reduction({ db }: { db: number }) {
  return (
    <span className="flex items-center gap-2">
      takes off
      <span className="relative h-2 w-24 bg-base-200" role="img" aria-label={`takes off ${db.toFixed(1)} dB`}>
        <span
          className="absolute inset-y-0 right-0 bg-patch"
          style={{ width: `${Math.min(100, (100 * db) / FULL_REDUCTION_DB)}%` }}
        />
      </span>
      <b className="figures w-14 font-normal text-base-content">{formatSize(db, 'dB')}</b>
    </span>
  );
}

const decibels = (power: number) => formatValue(10 * Math.log10(power), 'dB');

/** Levels of an effect a few times a second; null while there is no deck. */
function useLevels(owner: ChainOwner, effectId: string): EffectLevels | null {
  const [levels, setLevels] = useState<EffectLevels | null>(null);
  const before = useRef('');
  const { of } = owner;
  const index = usePatchStore(({ patch }) => chainOf(patch!, owner).findIndex(({ id }) => id === effectId));
  useEffect(() => {
    const look = setInterval(() => {
      const now = useTransport.getState().deck?.levelsOf(of, index) ?? null;
      const text = JSON.stringify(now);
      if (text !== before.current) setLevels(now);
      before.current = text;
    }, LOOK_MS);
    return () => clearInterval(look);
  }, [of, index]);
  return levels;
}
