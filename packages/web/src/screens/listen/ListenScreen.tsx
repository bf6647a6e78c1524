import { Maximize2, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { addCut } from '../../stores/cuts';
import { cutOf, useStudyStore } from '../../stores/studyStore';
import { transport, useTransport } from '../../stores/transportStore';
import { BeatGrid, BeatLines } from './BeatGrid';
import { CutList } from './CutList';
import { CutOverlay } from './CutOverlay';
import { KeyWords } from './KeyWords';
import { NoteRoll } from './NoteRoll';
import { Playhead } from './Playhead';
import { SectionBand } from './SectionBand';
import { SpectrogramView } from './SpectrogramView';
import { TimeScale } from './TimeScale';
import { Waveform } from './Waveform';
import { showStretch, useView, zoomView } from './viewStore';

/** The whole reference: heard, looked at, and cut. */
export function ListenScreen() {
  const { durationSeconds, fileName, format, sampleRateHz, channels } = useStudyStore(
    (state) => state.study!.reference,
  );
  const cutCount = useStudyStore((state) => state.cuts.length);
  const known = useStudyStore((state) => state.piece !== null);
  const [atCut, setAtCut] = useState(false);
  useEffect(() => showStretch(0, durationSeconds, durationSeconds), [durationSeconds]);

  const zoom = (factor: number) => zoomView(factor, useTransport.getState().cursorSeconds, durationSeconds);
  const showCut = () => {
    const cut = cutOf(useStudyStore.getState());
    if (atCut || !cut) showStretch(0, durationSeconds, durationSeconds);
    else {
      const margin = 0.15 * (cut.toSeconds - cut.fromSeconds);
      showStretch(cut.fromSeconds - margin, cut.toSeconds + margin, durationSeconds);
    }
    setAtCut(!atCut && cut !== null);
  };
  const step = (forward: boolean) => {
    const { onsets } = useStudyStore.getState();
    const { cursorSeconds } = useTransport.getState();
    const next = forward
      ? onsets.find((at) => at > cursorSeconds + 0.001)
      : onsets.findLast((at) => at < cursorSeconds - 0.001);
    if (next !== undefined) transport.seek(next);
  };
  useShortcut('zoomIn', () => zoom(1 / 1.5));
  useShortcut('zoomOut', () => zoom(1.5));
  useShortcut('zoomCut', showCut, [atCut]);
  useShortcut('earlier', () => step(false));
  useShortcut('later', () => step(true));
  useShortcut(
    'addCut',
    () => {
      const { cursorSeconds } = useTransport.getState();
      const toSeconds = Math.min(durationSeconds, cursorSeconds + 2);
      addCut({ name: `Cut ${cutCount + 1}`, role: 'long note', fromSeconds: cursorSeconds, toSeconds }).catch(
        (error: Error) => toast.error(error.message),
      );
    },
    [cutCount],
  );

  return (
    <div className="flex h-full">
      <div className="flex min-w-0 grow flex-col">
        <div className="flex items-center justify-between px-4 py-2">
          <div className="text-soft">
            <span className="text-base-content">{fileName}</span>, {format},{' '}
            <span className="figures">{sampleRateHz / 1000} kHz</span>, {channels === 1 ? 'mono' : 'stereo'},{' '}
            <span className="figures">{durationSeconds.toFixed(1)} s</span>
            {known && (
              <>
                <BeatGrid />
                <KeyWords />
              </>
            )}
          </div>
          <div className="flex items-center gap-1">
            <button type="button" className="btn btn-xs btn-ghost font-normal" onClick={showCut}>
              <Maximize2 size={13} /> {atCut ? 'Whole file' : 'The cut'} <Key of="zoomCut" />
            </button>
            <button
              type="button"
              className="btn btn-xs btn-ghost btn-square"
              aria-label="Zoom out"
              onClick={() => zoom(1.5)}
            >
              <ZoomOut size={14} />
            </button>
            <button
              type="button"
              className="btn btn-xs btn-ghost btn-square"
              aria-label="Zoom in"
              onClick={() => zoom(1 / 1.5)}
            >
              <ZoomIn size={14} />
            </button>
          </div>
        </div>
        <TimeScale />
        <SectionBand />
        <div className="relative flex min-h-0 grow flex-col">
          <div className="h-[34%] shrink-0">
            <Waveform />
          </div>
          <div className="hairline-t min-h-0 grow">
            <SpectrogramView />
          </div>
          <BeatLines />
          <OnsetMarks />
          <CutOverlay />
          <Playhead />
        </div>
        <NoteRoll />
        <p className="hairline-t px-4 py-2 text-soft">
          Click to set the cursor, drag to cut, wheel to zoom; Alt lets edges off the onsets. On a note <Key>↑</Key>{' '}
          <Key>↓</Key> move it, <Key of="splitNote" /> splits, <Key of="joinNote" /> joins, a double click adds one.
        </p>
      </div>
      <CutList />
    </div>
  );
}

/** Small ticks where something starts. */
function OnsetMarks() {
  const onsets = useStudyStore((state) => state.onsets);
  const { fromSeconds, toSeconds } = useView();
  const length = toSeconds - fromSeconds;
  const shown = onsets.filter((at) => at >= fromSeconds && at <= toSeconds);
  if (shown.length > 400) return null;
  return (
    <div className="pointer-events-none absolute inset-x-0 top-0 h-2" aria-hidden>
      {shown.map((at) => (
        <span
          key={at}
          className="absolute h-full w-px bg-soft"
          style={{ left: `${(100 * (at - fromSeconds)) / length}%` }}
        />
      ))}
    </div>
  );
}
