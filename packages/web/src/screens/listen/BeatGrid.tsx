import { useRef } from 'react';
import { toast } from 'sonner';
import { formatValue } from '@imprint/core/parameters/format';
import {
  type Grid,
  beatLengthSeconds,
  beatsWithin,
  doubled,
  gridOfTaps,
  halved,
  nudged,
} from '@imprint/core/reading/piece/grid';
import { SURE_TEMPO } from '@imprint/core/reading/piece/tempo';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { setGrid } from '../../stores/opening';
import { gridOf, useStudyStore } from '../../stores/studyStore';
import { useTransport } from '../../stores/transportStore';
import { useView } from './viewStore';

const NUDGE_SECONDS = 0.005;
/** Beats that stand closer are not drawn. */
const LEAST_PIXELS = 9;

/** Tempo of the piece, and the beats that can be tapped, nudged, halved and doubled. */
export function BeatGrid() {
  const grid = useStudyStore(gridOf);
  const tempo = useStudyStore((state) => state.piece?.tempo);
  const byHand = useStudyStore((state) => Boolean(state.study?.grid));
  const taps = useRef<number[]>([]);
  const change = (next: Grid | null) => setGrid(next);
  const tap = () => {
    const { playing, deck, cursorSeconds } = useTransport.getState();
    if (!playing || !deck) {
      toast('Taps follow what is heard: play first, then tap on every beat.');
      return;
    }
    const at = deck.positionSeconds;
    // Where a loop has wrapped the count begins anew.
    taps.current = at > (taps.current.at(-1) ?? cursorSeconds) ? [...taps.current, at] : [at];
    const told = gridOfTaps(taps.current);
    if (told) void change(told);
  };
  useShortcut('tap', tap);
  const shown = grid && (byHand || (tempo?.confidence ?? 0) >= SURE_TEMPO);
  return (
    <span className="dropdown">
      ,{' '}
      <button
        tabIndex={0}
        type="button"
        className="figures cursor-pointer underline decoration-dotted underline-offset-4"
      >
        {shown ? formatValue(Math.round(10 * grid.bpm) / 10, 'BPM') : 'no sure tempo'}
      </button>
      <div
        tabIndex={-1}
        className="dropdown-content hairline z-20 mt-1 w-72 space-y-2 bg-base-100 p-3 text-base-content shadow-md"
      >
        <p className="text-soft">
          {byHand ? 'The beats are as set by hand.' : 'The beats are as found.'}
          {tempo && tempo.others.length > 0 && (
            <> It could also be {tempo.others.map((bpm) => bpm.toFixed(1)).join(', ')} BPM.</>
          )}
        </p>
        <div className="flex flex-wrap gap-1">
          <button type="button" className="btn btn-xs btn-outline" onClick={tap}>
            Tap <Key of="tap" />
          </button>
          {grid && (
            <>
              <button type="button" className="btn btn-xs btn-outline" onClick={() => void change(halved(grid))}>
                Half the tempo
              </button>
              <button type="button" className="btn btn-xs btn-outline" onClick={() => void change(doubled(grid))}>
                Twice the tempo
              </button>
              <button
                type="button"
                className="btn btn-xs btn-outline"
                onClick={() => void change(nudged(grid, -NUDGE_SECONDS))}
              >
                5 ms earlier
              </button>
              <button
                type="button"
                className="btn btn-xs btn-outline"
                onClick={() => void change(nudged(grid, NUDGE_SECONDS))}
              >
                5 ms later
              </button>
            </>
          )}
          {byHand && (
            <button type="button" className="btn btn-xs btn-ghost" onClick={() => void change(null)}>
              As found
            </button>
          )}
        </div>
      </div>
    </span>
  );
}

/** The beats over the waveform and the spectrogram, as long as they stand apart. */
export function BeatLines() {
  const grid = useStudyStore(gridOf);
  const { fromSeconds, toSeconds } = useView();
  const length = toSeconds - fromSeconds;
  if (!grid || (beatLengthSeconds(grid) / length) * window.innerWidth < LEAST_PIXELS) return null;
  return (
    <div className="pointer-events-none absolute inset-0" data-testid="beats" aria-hidden>
      {beatsWithin(grid, fromSeconds, toSeconds).map((at) => (
        <span
          key={at}
          className="absolute inset-y-0 w-px bg-base-content/15"
          style={{ left: `${(100 * (at - fromSeconds)) / length}%` }}
        />
      ))}
    </div>
  );
}
