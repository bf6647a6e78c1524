import { Download, Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { noteName } from '@imprint/core/dsp/pitch';
import { readMidiFile, writeMidiFile } from '@imprint/core/formats/midi';
import { notesOfPhrase, phraseOf } from '@imprint/core/matching/phrase';
import { formatValue } from '@imprint/core/parameters/format';
import { measureGroove } from '@imprint/core/reading/piece/groove';
import {
  addNote,
  deleteNote,
  endNoteAt,
  joinNotes,
  moveNote,
  shiftOctaves,
  splitNote,
} from '@imprint/core/reading/hand/noteEdits';
import type { ReadingNote } from '@imprint/core/reading/schema';
import { download, fileNameOf } from '../../app/download';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { setNotes, undoNotes } from '../../stores/cuts';
import { readCut } from '../../stores/readings';
import { cutOf, gridOf, readingOf, useStudyStore } from '../../stores/studyStore';
import { useTransport } from '../../stores/transportStore';
import { useView } from './viewStore';

/** Semitones that are shown beyond the notes, and at least. */
const MARGIN = 2;
const LEAST_SPAN = 14;
const NEW_NOTE_SECONDS = 0.25;
const STEP_SECONDS = 0.01;
/** Part of a note at its right, by which its end is moved. */
const END_PIXELS = 7;

interface Drag {
  index: number;
  grip: 'whole' | 'end';
  startX: number;
  startY: number;
}

const fail = (error: Error) => toast.error(error.message);

/**
 * The notes of the chosen cut under its spectrogram, on the same time axis, to be corrected; the patch plays
 * them as they stand.
 */
export function NoteRoll() {
  const cut = useStudyStore(cutOf);
  const reading = useStudyStore(readingOf);
  const busy = useStudyStore((state) => state.work !== null);
  if (!cut) return null;
  const notes = reading?.notes ?? cut.notes;
  return (
    <section aria-label="Notes" className="hairline-t h-[150px] shrink-0">
      {notes ? (
        <Roll
          notes={notes}
          fromSeconds={cut.fromSeconds}
          toSeconds={cut.toSeconds}
          corrected={cut.notes !== null}
          name={cut.name}
        />
      ) : (
        <p className="flex h-full items-center justify-center gap-3 text-soft">
          The notes of {cut.name} are not known yet.
          <button type="button" className="btn btn-xs btn-outline" disabled={busy} onClick={() => void readCut()}>
            Measure the cut
          </button>
        </p>
      )}
    </section>
  );
}

interface RollProps {
  notes: ReadingNote[];
  fromSeconds: number;
  toSeconds: number;
  corrected: boolean;
  name: string;
}

function Roll({ notes, fromSeconds: cutFrom, toSeconds: cutTo, corrected, name }: RollProps) {
  const box = useRef<HTMLDivElement>(null);
  const view = useView();
  const [chosen, setChosen] = useState<number | null>(null);
  const [drag, setDrag] = useState<(Drag & { notes: ReadingNote[] }) | null>(null);
  const shown = drag?.notes ?? notes;
  const low = Math.min(...notes.map(({ midi }) => midi), 127) - MARGIN;
  const high = Math.max(...notes.map(({ midi }) => midi), 0) + MARGIN;
  const bottom = notes.length === 0 ? 48 : Math.floor(low - Math.max(0, LEAST_SPAN - (high - low)) / 2);
  const rows = notes.length === 0 ? 24 : Math.max(LEAST_SPAN, high - low) + 1;
  const length = view.toSeconds - view.fromSeconds;

  /** Keeps changed notes, and chooses the one that was changed, or the one that took its place. */
  const keep = (changed: ReadingNote[], follow?: ReadingNote) => {
    const same = ({ onsetSeconds, midi }: ReadingNote) => onsetSeconds === follow?.onsetSeconds && midi === follow.midi;
    const at = changed.findIndex(same);
    if (at >= 0) setChosen(at);
    else if (chosen !== null) setChosen(changed.length > 0 ? Math.min(chosen, changed.length - 1) : null);
    setNotes(changed).catch(fail);
  };
  const index = chosen !== null && chosen < notes.length ? chosen : null;
  const change = (edit: (at: number) => ReadingNote[]) => {
    if (index === null) return;
    const before = notes[index];
    const changed = edit(index);
    const added = changed.find((note) => !notes.includes(note));
    keep(changed, added ?? before);
  };
  /** A note that keys have moved may stand at another place in the list: the focus goes with it. */
  const followFocus = useRef(false);
  useEffect(() => {
    if (!followFocus.current || index === null) return;
    followFocus.current = false;
    box.current!.querySelectorAll('button')[index].focus();
  });
  const cursor = () => useTransport.getState().cursorSeconds - cutFrom;
  useShortcut('splitNote', () => change((at) => splitNote(notes, at, cursor())), [notes, index]);
  useShortcut('joinNote', () => change((at) => joinNotes(notes, at)), [notes, index]);

  const onKey = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 12 : 1;
    const edits: Record<string, (at: number) => ReadingNote[]> = {
      ArrowUp: (at) => moveNote(notes, at, { semitones: step }),
      ArrowDown: (at) => moveNote(notes, at, { semitones: -step }),
      ArrowLeft: (at) => moveNote(notes, at, { seconds: -STEP_SECONDS }),
      ArrowRight: (at) => moveNote(notes, at, { seconds: STEP_SECONDS }),
      Delete: (at) => deleteNote(notes, at),
      Backspace: (at) => deleteNote(notes, at),
    };
    const edit = edits[event.key];
    if (!edit) return;
    event.preventDefault();
    event.stopPropagation();
    followFocus.current = true;
    change(edit);
  };

  const secondsPer = () => length / box.current!.clientWidth;
  const semitonesPer = () => rows / box.current!.clientHeight;
  const moved = ({ index: at, grip, startX, startY }: Drag, event: React.PointerEvent) => {
    const seconds = (event.clientX - startX) * secondsPer();
    const { onsetSeconds, durationSeconds } = notes[at];
    if (grip === 'end') return endNoteAt(notes, at, onsetSeconds + durationSeconds + seconds);
    return moveNote(notes, at, { seconds, semitones: -Math.round((event.clientY - startY) * semitonesPer()) });
  };
  const begin = (event: React.PointerEvent<HTMLElement>, at: number) => {
    event.stopPropagation();
    const { right } = event.currentTarget.getBoundingClientRect();
    box.current!.setPointerCapture(event.pointerId);
    setChosen(at);
    const grip = right - event.clientX < END_PIXELS ? 'end' : 'whole';
    setDrag({ index: at, grip, startX: event.clientX, startY: event.clientY, notes });
  };
  const end = () => {
    if (!drag) return;
    const changed = drag.notes.find((note) => !notes.includes(note));
    setDrag(null);
    if (changed) keep(drag.notes, changed);
  };
  const add = (event: React.MouseEvent) => {
    const { left, top } = box.current!.getBoundingClientRect();
    const onsetSeconds = view.fromSeconds + (event.clientX - left) * secondsPer() - cutFrom;
    if (onsetSeconds < 0 || onsetSeconds > cutTo - cutFrom) return;
    const midi = bottom + rows - 1 - Math.floor((event.clientY - top) * semitonesPer());
    const note = { onsetSeconds, durationSeconds: NEW_NOTE_SECONDS, midi };
    keep(addNote(notes, note), { ...note, cents: 0, levelDb: 0 });
  };

  return (
    <div className="flex h-full flex-col">
      <RollTools notes={notes} corrected={corrected} name={name} cutFrom={cutFrom} change={keep} />
      <div
        ref={box}
        className="relative min-h-0 grow touch-none overflow-hidden"
        data-testid="note-roll"
        onPointerMove={(event) => drag && setDrag({ ...drag, notes: moved(drag, event) })}
        onPointerUp={end}
        onPointerCancel={() => setDrag(null)}
        onDoubleClick={add}
      >
        {notes.length === 0 && (
          <p className="absolute inset-0 flex items-center justify-center text-soft">
            No notes were found: nothing in this cut repeats at a steady pitch. A double click adds one by hand.
          </p>
        )}
        {Array.from({ length: rows }, (_, row) => bottom + row)
          .filter((midi) => midi % 12 === 0)
          .map((midi) => (
            <span
              key={midi}
              className="hairline-b pointer-events-none absolute inset-x-0 pl-1 text-2xs leading-none text-soft"
              style={{ bottom: `${(100 * (midi - bottom)) / rows}%` }}
            >
              {noteName(midi)}
            </span>
          ))}
        {shown.map(({ onsetSeconds, durationSeconds, midi, cents, levelDb }, at) => {
          const isChosen = !drag && at === index;
          return (
            <button
              key={at}
              type="button"
              className={`absolute cursor-grab overflow-hidden rounded-[2px] bg-reference text-left text-2xs leading-none text-base-100 ${isChosen ? 'outline-2 outline-offset-1 outline-base-content' : ''}`}
              style={{
                left: `${(100 * (cutFrom + onsetSeconds - view.fromSeconds)) / length}%`,
                width: `max(3px, ${(100 * durationSeconds) / length}%)`,
                bottom: `${(100 * (midi - bottom)) / rows}%`,
                height: `${Math.max(5, 100 / rows)}%`,
              }}
              aria-label={`${noteName(midi)} at ${onsetSeconds.toFixed(2)} s for ${durationSeconds.toFixed(2)} s`}
              aria-pressed={isChosen}
              title={`${noteName(midi)}, ${formatValue(cents, 'ct')}, ${formatValue(levelDb, 'dB')}`}
              onPointerDown={(event) => begin(event, at)}
              onFocus={() => setChosen(at)}
              onKeyDown={onKey}
              onDoubleClick={(event) => event.stopPropagation()}
            />
          );
        })}
      </div>
    </div>
  );
}

interface ToolsProps {
  notes: ReadingNote[];
  corrected: boolean;
  name: string;
  cutFrom: number;
  change(notes: ReadingNote[]): void;
}

/** What is done to all notes at once, what they tell of the groove, and MIDI files. */
function RollTools({ notes, corrected, name, cutFrom, change }: ToolsProps) {
  const file = useRef<HTMLInputElement>(null);
  const canUndo = useStudyStore(({ earlierNotes, cutId }) => earlierNotes.some((earlier) => earlier.cutId === cutId));
  const undo = () => void undoNotes().catch(fail);
  useShortcut('undoNote', undo);
  const grid = useStudyStore(gridOf);
  const bpm = grid?.bpm ?? null;
  const { swing, strum } = measureGroove(notes, bpm, (grid?.beatSeconds ?? 0) - cutFrom);
  const words = [
    `${notes.length} ${notes.length === 1 ? 'note' : 'notes'}${corrected ? ', corrected' : ''}`,
    swing && `off-beats at ${Math.round(swing.percent)} % of two ${swing.step}`,
    strum && strum.seconds > 0 && `chords struck within ${formatValue(strum.seconds, 's')}`,
  ].filter(Boolean);
  const load = async (chosen: File | undefined) => {
    if (!chosen) return;
    change(notesOfPhrase(readMidiFile(new Uint8Array(await chosen.arrayBuffer()))));
  };
  return (
    <div className="flex items-center gap-1 px-4 py-1">
      <p className="min-w-0 grow truncate text-soft">
        <span className="text-base-content">Notes</span> <span className="figures text-2xs">{words.join(' · ')}</span>
      </p>
      <button
        type="button"
        className="btn btn-xs btn-ghost font-normal"
        onClick={() => change(shiftOctaves(notes, -1))}
      >
        Octave down
      </button>
      <button type="button" className="btn btn-xs btn-ghost font-normal" onClick={() => change(shiftOctaves(notes, 1))}>
        Octave up
      </button>
      {canUndo && (
        <button type="button" className="btn btn-xs btn-ghost font-normal" onClick={undo}>
          Step back <Key of="undoNote" />
        </button>
      )}
      {corrected && (
        <button
          type="button"
          className="btn btn-xs btn-ghost font-normal"
          onClick={() => void setNotes(null).catch(fail)}
        >
          As found
        </button>
      )}
      <button
        type="button"
        className="btn btn-xs btn-ghost btn-square"
        aria-label="Notes from a MIDI file"
        title="Notes from a MIDI file"
        onClick={() => file.current!.click()}
      >
        <Upload size={13} />
      </button>
      <button
        type="button"
        className="btn btn-xs btn-ghost btn-square"
        aria-label="Notes as a MIDI file"
        title="Notes as a MIDI file"
        disabled={notes.length === 0}
        onClick={() =>
          download(`${fileNameOf(name)}.mid`, writeMidiFile(phraseOf({ notes }), bpm ?? undefined), 'audio/midi')
        }
      >
        <Download size={13} />
      </button>
      <input
        ref={file}
        type="file"
        accept=".mid,.midi"
        className="hidden"
        aria-label="MIDI file"
        onChange={({ target }) => {
          load(target.files?.[0]).catch(fail);
          target.value = '';
        }}
      />
    </div>
  );
}
