import { Circle, Play, Repeat, Square } from 'lucide-react';
import { toast } from 'sonner';
import { writeWav } from '@imprint/core/formats/wav';
import { useShortcut } from '../app/useShortcut';
import { download } from '../app/download';
import { transport, useTransport } from '../stores/transportStore';
import { usePatchStore } from '../stores/patchStore';
import { Key } from './Key';
import { Meter } from './Meter';

async function toggleRecording(): Promise<void> {
  const { deck, recording } = useTransport.getState();
  if (!deck) return;
  useTransport.setState({ recording: !recording });
  if (!recording) return deck.startRecording();
  const audio = await deck.stopRecording();
  if (audio.channels[0].length === 0) return;
  download('recording.wav', writeWav(audio, 'float32'), 'audio/wav');
  toast(`Recorded ${(audio.channels[0].length / audio.sampleRateHz).toFixed(1)} s`);
}

/** Which side is turned down, and by how much. */
function describeMatch(loudnessMatchDb: number | null): string {
  if (loudnessMatchDb === null) return 'once printed';
  const amount = Math.abs(loudnessMatchDb).toFixed(1);
  return amount === '0.0' ? 'as they are' : `${loudnessMatchDb > 0 ? 'reference' : 'patch'} −${amount} dB`;
}

/** Always on top: play, flip, loop, equal loudness, record, meter. */
export function TransportStrip() {
  const { playing, side, looping, span, equalLoudness, loudnessMatchDb, isAsLoud, recording, deck } = useTransport();
  const hasPatch = usePatchStore(({ patch }) => patch !== null);
  useShortcut('play', transport.toggle);
  useShortcut('flip', () => hasPatch && transport.flip(), [hasPatch]);
  useShortcut('loop', () => transport.setLooping(!looping), [looping]);
  useShortcut('equalLoudness', () => transport.setEqualLoudness(!equalLoudness), [equalLoudness]);
  useShortcut('record', () => void toggleRecording());

  const match = describeMatch(isAsLoud ? 0 : loudnessMatchDb);
  return (
    <div className="flex items-center gap-3" role="toolbar" aria-label="Transport">
      <button
        type="button"
        className={`btn btn-ghost btn-xs font-normal ${equalLoudness ? '' : 'line-through'}`}
        aria-pressed={equalLoudness}
        title="Plays both sides at the same loudness (ITU-R BS.1770); the louder one is turned down (E)"
        onClick={() => transport.setEqualLoudness(!equalLoudness)}
      >
        equal loudness <span className="figures">{match}</span>
      </button>
      <div role="group" aria-label="Side" className="flex border border-base-content">
        <SideButton
          name="Reference"
          chosen={side === 'reference'}
          onClick={() => transport.setSide('reference')}
          filled
        />
        <SideButton
          name="Patch"
          chosen={side === 'patch'}
          onClick={() => transport.setSide('patch')}
          disabled={!hasPatch}
        />
      </div>
      <Key of="flip" />
      <button
        type="button"
        className={`btn btn-xs btn-square ${looping ? 'btn-neutral' : 'btn-ghost'}`}
        aria-pressed={looping}
        aria-label="Loop the cut"
        title={span ? 'Loop the cut (L)' : 'Loop the cut (L); there is no cut yet'}
        onClick={() => transport.setLooping(!looping)}
      >
        <Repeat size={14} />
      </button>
      <button
        type="button"
        className={`btn btn-xs btn-square ${recording ? 'btn-neutral' : 'btn-ghost'}`}
        aria-pressed={recording}
        aria-label={recording ? 'Stop recording and save it' : 'Record what is heard'}
        title="Record what is heard, again to save it (R)"
        disabled={!deck}
        onClick={() => void toggleRecording()}
      >
        <Circle size={14} fill={recording ? 'currentColor' : 'none'} />
      </button>
      <button
        type="button"
        className="btn btn-sm btn-neutral w-20"
        onClick={transport.toggle}
        disabled={!deck}
        title="Play or stop (Space)"
      >
        {playing ? <Square size={12} fill="currentColor" /> : <Play size={13} fill="currentColor" />}
        {playing ? 'Stop' : 'Play'}
      </button>
      <Key of="play" />
      <Meter />
    </div>
  );
}

interface SideButtonProps {
  name: 'Reference' | 'Patch';
  chosen: boolean;
  filled?: boolean;
  disabled?: boolean;
  onClick: () => void;
}

function SideButton({ name, chosen, filled = false, disabled = false, onClick }: SideButtonProps) {
  const ink = filled ? 'var(--ink-reference)' : 'var(--ink-patch)';
  return (
    <button
      type="button"
      aria-pressed={chosen}
      disabled={disabled}
      onClick={onClick}
      className={`flex h-7 items-center gap-2 px-3 disabled:opacity-40 ${chosen ? 'bg-base-content text-base-100' : ''}`}
    >
      <span
        className="inline-block size-[10px] border-2"
        style={{ borderColor: ink, background: filled ? ink : 'transparent' }}
      />
      {name}
    </button>
  );
}
