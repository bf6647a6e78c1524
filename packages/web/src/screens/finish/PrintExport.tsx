import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { noteName, noteNumber } from '@imprint/core/dsp/pitch';
import type { PhraseNote } from '@imprint/core/engine/render';
import { readMidiFile } from '@imprint/core/formats/midi';
import { type WavEncoding, writeWav } from '@imprint/core/formats/wav';
import { formatValue, parseValue } from '@imprint/core/parameters/format';
import type { Patch } from '@imprint/core/patch/schema';
import { download } from '../../app/download';
import { toneApi } from '../../stores/threads';
import { ExportRow } from './ExportRow';

const ENCODINGS: { value: WavEncoding; label: string }[] = [
  { value: 'int16', label: '16 bit' },
  { value: 'int24', label: '24 bit' },
  { value: 'float32', label: '32-bit float' },
];
const RATES_HZ = [44100, 48000, 96000];
/** To where a print that would clip is lowered. */
const LOWERED_DB = -1;

const played = { phrase: 'the notes of the cut', note: 'one note', midi: 'a MIDI file …' } as const;
type Played = keyof typeof played;

/** A print that is louder than its format can hold, until it is decided what to do. */
interface Loud {
  channels: Float32Array[];
  peakDb: number;
}

interface PrintExportProps {
  patch: Patch;
  phrase: readonly PhraseNote[];
  fileName: string;
}

/** The patch as a sound file: of the cut's notes, of any note, or of a MIDI file; it says before it clips. */
export function PrintExport({ patch, phrase, fileName }: PrintExportProps) {
  const [encoding, setEncoding] = useState<WavEncoding>('int24');
  const [rate, setRate] = useState(44100);
  const [plays, setPlays] = useState<Played>('phrase');
  const [note, setNote] = useState({ midi: Math.round(phrase[0]?.midi ?? 45), seconds: 1, velocity: 100 });
  const [file, setFile] = useState<{ name: string; notes: PhraseNote[] } | null>(null);
  const [loud, setLoud] = useState<Loud | null>(null);

  const notesOf = (): readonly PhraseNote[] => {
    if (plays === 'note')
      return [{ onsetSeconds: 0, durationSeconds: note.seconds, midi: note.midi, velocity: note.velocity }];
    return plays === 'midi' && file ? file.notes : phrase;
  };
  const write = (channels: Float32Array[], gainDb: number) => {
    const gain = 10 ** (gainDb / 20);
    const turned = gainDb === 0 ? channels : channels.map((channel) => channel.map((x) => gain * x));
    download(fileName, writeWav({ channels: turned, sampleRateHz: rate }, encoding), 'audio/wav');
    setLoud(null);
  };
  const print = useMutation({
    mutationFn: () => toneApi().render(patch, [...notesOf()], rate),
    onSuccess: (channels) => {
      const peak = channels.reduce((most, channel) => channel.reduce((a, x) => Math.max(a, Math.abs(x)), most), 0);
      if (peak <= 1 || encoding === 'float32') write(channels, 0);
      else setLoud({ channels, peakDb: 20 * Math.log10(peak) });
    },
    onError: (error) => toast.error(`Not exported: ${error.message}`),
  });
  const choose = (next: Played) => {
    setLoud(null);
    if (next === 'midi') document.getElementById('printed-midi')?.click();
    else setPlays(next);
  };
  const readFile = async (chosen: File) => {
    const notes = readMidiFile(new Uint8Array(await chosen.arrayBuffer()));
    setFile({ name: chosen.name, notes });
    setPlays('midi');
  };

  return (
    <ExportRow
      title="Proof as WAV"
      detail="The patch, until the last note has died away."
      onExport={() => print.mutate()}
      busy={print.isPending}
      below={
        <>
          <p className="mt-2 flex flex-wrap items-center gap-2 text-soft">
            Plays
            <select
              className="select select-xs w-40 text-base-content"
              aria-label="What is played"
              value={plays}
              onChange={({ target }) => choose(target.value as Played)}
            >
              {Object.entries(played).map(([value, title]) => (
                <option key={value} value={value}>
                  {value === 'midi' && file ? file.name : title}
                </option>
              ))}
            </select>
            {plays === 'note' && <OneNote note={note} bpm={patch.bpm} onChange={setNote} />}
            {plays === 'midi' && file && <span>{file.notes.length} notes</span>}
            <input
              id="printed-midi"
              type="file"
              className="hidden"
              accept=".mid,.midi,audio/midi"
              aria-label="MIDI file to print"
              onChange={({ target }) => {
                const [chosen] = target.files ?? [];
                target.value = '';
                if (chosen) readFile(chosen).catch((error: Error) => toast.error(error.message));
              }}
            />
          </p>
          {loud && (
            <p role="alert" className="mt-2 flex flex-wrap items-center gap-2 border-l-4 border-base-content pl-3">
              It peaks at {formatValue(loud.peakDb, 'dB')} and would clip.
              <button
                type="button"
                className="btn btn-xs btn-neutral"
                onClick={() => write(loud.channels, LOWERED_DB - loud.peakDb)}
              >
                Lower to {formatValue(LOWERED_DB, 'dB')}
              </button>
              <button type="button" className="btn btn-xs btn-outline" onClick={() => write(loud.channels, 0)}>
                Export as it is
              </button>
            </p>
          )}
        </>
      }
    >
      <select
        className="select select-xs w-28"
        aria-label="Sample format"
        value={encoding}
        onChange={({ target }) => setEncoding(target.value as WavEncoding)}
      >
        {ENCODINGS.map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <select
        className="select select-xs w-24"
        aria-label="Sampling rate"
        value={rate}
        onChange={({ target }) => setRate(Number(target.value))}
      >
        {RATES_HZ.map((hz) => (
          <option key={hz} value={hz}>
            {hz / 1000} kHz
          </option>
        ))}
      </select>
    </ExportRow>
  );
}

interface Note {
  midi: number;
  seconds: number;
  velocity: number;
}

/** A note by its name, its length and its velocity. */
function OneNote({ note, bpm, onChange }: { note: Note; bpm: number; onChange: (note: Note) => void }) {
  return (
    <>
      <Field
        label="Note"
        shown={noteName(note.midi)}
        read={(text) => {
          const midi = noteNumber(text);
          return midi === undefined || midi < 0 || midi > 127 ? undefined : { ...note, midi };
        }}
        like="A2"
        onChange={onChange}
      />
      <Field
        label="Length"
        shown={formatValue(note.seconds, 's')}
        read={(text) => {
          const seconds = parseValue(text, 's', bpm);
          return seconds === undefined || seconds <= 0 || seconds > 60 ? undefined : { ...note, seconds };
        }}
        like="1.5 s or 1/8"
        onChange={onChange}
      />
      <Field
        label="Velocity"
        shown={String(note.velocity)}
        read={(text) => {
          const velocity = Number(text);
          return Number.isInteger(velocity) && velocity >= 1 && velocity <= 127 ? { ...note, velocity } : undefined;
        }}
        like="1 to 127"
        onChange={onChange}
      />
    </>
  );
}

interface FieldProps {
  label: string;
  shown: string;
  /** The note with what was typed; undefined when that is none. */
  read: (text: string) => Note | undefined;
  like: string;
  onChange: (note: Note) => void;
}

function Field({ label, shown, read, like, onChange }: FieldProps) {
  const take = (input: HTMLInputElement) => {
    const next = read(input.value.trim());
    if (next) onChange(next);
    else {
      toast.error(`“${input.value}” is no ${label.toLowerCase()}. Something like ${like} is.`);
      input.value = shown;
    }
  };
  return (
    <label className="flex items-center gap-1">
      {label}
      <input
        key={shown}
        className="input input-xs figures w-20 text-base-content"
        defaultValue={shown}
        onBlur={({ target }) => target.value !== shown && take(target)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </label>
  );
}
