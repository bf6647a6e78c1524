import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Cut } from '@imprint/contract/api';
import { roleByLength } from '@imprint/core/reading/cuts/cutRole';
import { addCut, changeCut, selectCut } from '../../stores/cuts';
import { useStudyStore } from '../../stores/studyStore';
import { transport } from '../../stores/transportStore';
import { useView, zoomView } from './viewStore';

/** Shorter drags are clicks. */
const DRAG_PIXELS = 4;
const SNAP_PIXELS = 8;
const MIN_SECONDS = 0.05;

type Grip = 'from' | 'to' | 'whole';
interface Drag {
  grip: Grip | 'new';
  cutId: string | null;
  startSeconds: number;
  fromSeconds: number;
  toSeconds: number;
}

/**
 * Everything that is done on the reference with a pointer: a click moves the cursor, a drag on bare ground
 * makes a cut, a drag on a cut or its edge moves it. Edges snap to onsets, unless Alt is held.
 */
export function CutOverlay() {
  const box = useRef<HTMLDivElement>(null);
  const view = useView();
  const cuts = useStudyStore((state) => state.cuts);
  const chosen = useStudyStore((state) => state.cutId);
  const onsets = useStudyStore((state) => state.onsets);
  const duration = useStudyStore((state) => state.study!.reference.durationSeconds);
  const [drag, setDrag] = useState<Drag | null>(null);
  const length = view.toSeconds - view.fromSeconds;

  const secondsAt = (clientX: number) => {
    const { left, width } = box.current!.getBoundingClientRect();
    return Math.min(duration, Math.max(0, view.fromSeconds + ((clientX - left) / width) * length));
  };
  const snapped = (seconds: number, free: boolean) => {
    const reach = (SNAP_PIXELS / box.current!.clientWidth) * length;
    const nearest = onsets.reduce(
      (best, onset) => (Math.abs(onset - seconds) < Math.abs(best - seconds) ? onset : best),
      Infinity,
    );
    return !free && Math.abs(nearest - seconds) <= reach ? nearest : seconds;
  };
  const place = ({ fromSeconds, toSeconds }: { fromSeconds: number; toSeconds: number }) => ({
    left: `${(100 * (fromSeconds - view.fromSeconds)) / length}%`,
    width: `${(100 * (toSeconds - fromSeconds)) / length}%`,
  });

  function begin(event: React.PointerEvent, grip: Drag['grip'], cut?: Cut): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    box.current!.setPointerCapture(event.pointerId);
    const at = secondsAt(event.clientX);
    if (cut) void selectCut(cut.id);
    setDrag({
      grip,
      cutId: cut?.id ?? null,
      startSeconds: at,
      fromSeconds: cut?.fromSeconds ?? at,
      toSeconds: cut?.toSeconds ?? at,
    });
  }

  function move(event: React.PointerEvent): void {
    if (!drag) return;
    const at = secondsAt(event.clientX);
    const free = event.altKey;
    const cut = cuts.find(({ id }) => id === drag.cutId);
    if (drag.grip === 'new') {
      const [from, to] = [drag.startSeconds, at].sort((a, b) => a - b);
      setDrag({ ...drag, fromSeconds: snapped(from, free), toSeconds: snapped(to, free) });
    } else if (cut && drag.grip === 'whole') {
      const from = Math.min(
        duration - (cut.toSeconds - cut.fromSeconds),
        Math.max(0, snapped(cut.fromSeconds + at - drag.startSeconds, free)),
      );
      setDrag({ ...drag, fromSeconds: from, toSeconds: from + cut.toSeconds - cut.fromSeconds });
    } else if (drag.grip === 'from') {
      setDrag({ ...drag, fromSeconds: Math.min(drag.toSeconds - MIN_SECONDS, snapped(at, free)) });
    } else {
      setDrag({ ...drag, toSeconds: Math.max(drag.fromSeconds + MIN_SECONDS, snapped(at, free)) });
    }
  }

  function end(event: React.PointerEvent): void {
    if (!drag) return;
    setDrag(null);
    const { grip, cutId, fromSeconds, toSeconds } = drag;
    const pixels = (Math.abs(secondsAt(event.clientX) - drag.startSeconds) / length) * box.current!.clientWidth;
    if (pixels < DRAG_PIXELS) {
      transport.seek(drag.startSeconds);
      return;
    }
    const span = { fromSeconds, toSeconds };
    const done =
      grip === 'new'
        ? toSeconds - fromSeconds < MIN_SECONDS
          ? Promise.reject(new Error('A cut is at least 50 ms long.'))
          : addCut({ name: `Cut ${cuts.length + 1}`, role: roleByLength(toSeconds - fromSeconds), ...span })
        : changeCut(cutId!, span);
    done.catch((error: Error) => toast.error(error.message));
  }

  return (
    <div
      ref={box}
      data-testid="cut-overlay"
      className="absolute inset-0 cursor-crosshair touch-none"
      onPointerDown={(event) => begin(event, 'new')}
      onPointerMove={move}
      onPointerUp={end}
      onPointerCancel={() => setDrag(null)}
      onWheel={(event) => {
        if (event.deltaY !== 0) zoomView(event.deltaY > 0 ? 1.15 : 1 / 1.15, secondsAt(event.clientX), duration);
        if (event.deltaX !== 0) {
          const step = (event.deltaX / box.current!.clientWidth) * length;
          useView.setState({
            fromSeconds: Math.max(0, Math.min(duration - length, view.fromSeconds + step)),
            toSeconds: Math.max(length, Math.min(duration, view.toSeconds + step)),
          });
        }
      }}
    >
      {cuts.map((cut) => (
        <CutBand
          key={cut.id}
          cut={cut}
          chosen={cut.id === chosen}
          style={place(drag?.cutId === cut.id ? drag : cut)}
          onGrip={(event, grip) => begin(event, grip, cut)}
        />
      ))}
      {drag?.grip === 'new' && (
        <div
          className="pointer-events-none absolute inset-y-0 border-x border-base-content bg-base-content/10"
          style={place(drag)}
        />
      )}
    </div>
  );
}

interface CutBandProps {
  cut: Cut;
  chosen: boolean;
  style: React.CSSProperties;
  onGrip: (event: React.PointerEvent, grip: Grip) => void;
}

function CutBand({ cut, chosen, style, onGrip }: CutBandProps) {
  const edge = 'absolute inset-y-0 w-[9px] cursor-ew-resize';
  return (
    <div
      className={`absolute inset-y-0 overflow-hidden ${chosen ? 'border-x-2 border-base-content bg-base-content/10' : 'border-x border-soft bg-base-content/5'}`}
      style={style}
    >
      <button
        type="button"
        data-testid={`cut-${cut.name}`}
        aria-pressed={chosen}
        className={`absolute top-0 left-0 z-10 max-w-full cursor-grab truncate px-2 py-[2px] text-2xs ${chosen ? 'bg-base-content text-base-100' : 'bg-base-200'}`}
        onPointerDown={(event) => onGrip(event, 'whole')}
        onKeyDown={(event) => event.key === 'Enter' && void selectCut(cut.id)}
      >
        {cut.name}
      </button>
      <div className={`${edge} left-0`} onPointerDown={(event) => onGrip(event, 'from')} />
      <div className={`${edge} right-0`} onPointerDown={(event) => onGrip(event, 'to')} />
    </div>
  );
}
