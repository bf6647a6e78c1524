import { useEffect, useMemo, useState } from 'react';
import { noteName } from '@imprint/core/dsp/pitch';
import type { ControlName } from '@imprint/core/engine/engine';
import {
  type MidiSource,
  type SimulatedKeyboard,
  createSimulatedKeyboard,
  findMidiInputs,
  handleMidi,
} from '../audio/midi';
import { PIANO_LETTERS } from '../app/shortcuts';
import { useSettings } from '../app/settings';
import { useTransport } from '../stores/transportStore';

const OCTAVES = 4;
const BLACK = new Set([1, 3, 6, 8, 10]);
const COMPUTER_KEY_VELOCITY = 100;

/** A keyboard to play the patch: by pointer, by the computer's keys, or from a MIDI keyboard. */
export function Keyboard() {
  const [octave, setOctave] = useState(2);
  const [inputs, setInputs] = useState<MidiSource[]>([]);
  const [down, setDown] = useState<ReadonlySet<number>>(new Set());
  const characterKeys = useSettings((settings) => settings.characterKeys);
  const simulated = useMemo(() => createSimulatedKeyboard(), []);

  useEffect(() => {
    void findMidiInputs().then(setInputs);
  }, []);

  useEffect(() => {
    const handler = {
      noteOn(midi: number, velocity: number) {
        useTransport.getState().deck?.noteOn(midi, midi, velocity);
        setDown((held) => new Set(held).add(midi));
      },
      noteOff(midi: number, velocity: number) {
        useTransport.getState().deck?.noteOff(midi, velocity);
        setDown((held) => new Set([...held].filter((other) => other !== midi)));
      },
      control: (control: ControlName, value: number) => useTransport.getState().deck?.control(control, value),
    };
    const stops = [simulated, ...inputs].map((source) => source.listen((bytes) => handleMidi(bytes, handler)));
    return () => stops.forEach((stop) => stop());
  }, [simulated, inputs]);

  useEffect(() => {
    const held = new Map<string, number>();
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event)) return;
      const step = PIANO_LETTERS.indexOf(event.key.toLowerCase());
      if (step < 0 && event.key !== '[' && event.key !== ']') return;
      // What is played is no shortcut besides.
      event.stopPropagation();
      event.preventDefault();
      if (event.repeat || held.has(event.key)) return;
      if (event.key === '[') setOctave((value) => Math.max(0, value - 1));
      if (event.key === ']') setOctave((value) => Math.min(6, value + 1));
      if (step < 0) return;
      const midi = 12 * (octave + 1) + step;
      held.set(event.key, midi);
      simulated.press(midi, COMPUTER_KEY_VELOCITY);
    };
    const onKeyUp = (event: KeyboardEvent) => {
      const midi = held.get(event.key);
      if (midi === undefined) return;
      held.delete(event.key);
      simulated.release(midi);
    };
    const releaseAll = () => {
      held.forEach((midi) => simulated.release(midi));
      held.clear();
    };
    // Before all other listeners.
    if (characterKeys) window.addEventListener('keydown', onKeyDown, true);
    window.addEventListener('keyup', onKeyUp);
    // A key let go while another window is in front would hang.
    window.addEventListener('blur', releaseAll);
    return () => {
      releaseAll();
      window.removeEventListener('keydown', onKeyDown, true);
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', releaseAll);
    };
  }, [octave, simulated, characterKeys]);

  const lowest = 12 * (octave + 1);
  const keys = Array.from({ length: 12 * OCTAVES + 1 }, (_, i) => lowest + i);
  const whites = keys.filter((midi) => !BLACK.has(midi % 12));
  return (
    <section aria-label="Keyboard" className="hairline-t flex h-[132px] gap-4 px-4 py-3">
      <div className="w-44 shrink-0 space-y-2">
        <p className="text-soft">{[simulated, ...inputs].map(({ name }) => name).join(', ')}</p>
        <div className="flex items-center gap-2">
          <button
            type="button"
            className="btn btn-xs btn-outline"
            onClick={() => setOctave((value) => Math.max(0, value - 1))}
          >
            −
          </button>
          <span className="figures">octave {octave}</span>
          <button
            type="button"
            className="btn btn-xs btn-outline"
            onClick={() => setOctave((value) => Math.min(6, value + 1))}
          >
            +
          </button>
        </div>
        <p className="text-2xs text-soft">Lower on a key is louder. Letters Z to M play, [ and ] move the octave.</p>
      </div>
      <Slider keyboard={simulated} control="bend" label="Bend" springs />
      <Slider keyboard={simulated} control="wheel" label="Wheel" />
      <Slider keyboard={simulated} control="pressure" label="Press" />
      <div className="relative flex grow touch-none select-none">
        {whites.map((midi, i) => (
          <PianoKey
            key={midi}
            midi={midi}
            down={down.has(midi)}
            className="grow border-y border-r border-base-content bg-base-100 first:border-l"
            letter={PIANO_LETTERS[midi - lowest]}
            onPress={simulated.press}
            onRelease={simulated.release}
            label={midi % 12 === 0 ? noteName(midi) : ''}
            order={i}
          />
        ))}
        {keys
          .filter((midi) => BLACK.has(midi % 12))
          .map((midi) => (
            <PianoKey
              key={midi}
              midi={midi}
              down={down.has(midi)}
              className="absolute top-0 z-10 h-[58%] bg-base-content text-base-100"
              style={{
                left: `${(100 * (whites.findIndex((white) => white > midi) - 0.3)) / whites.length}%`,
                width: `${60 / whites.length}%`,
              }}
              letter={PIANO_LETTERS[midi - lowest]}
              onPress={simulated.press}
              onRelease={simulated.release}
              label=""
              order={0}
            />
          ))}
      </div>
    </section>
  );
}

interface SliderProps {
  keyboard: SimulatedKeyboard;
  control: ControlName;
  label: string;
  /** Goes back to the middle when it is let go. */
  springs?: boolean;
}

/** A wheel of the simulated keyboard, seen from above. */
function Slider({ keyboard, control, label, springs = false }: SliderProps) {
  const [value, setValue] = useState(0);
  const move = (next: number) => {
    setValue(next);
    keyboard.move(control, next);
  };
  return (
    <label className="flex w-8 shrink-0 flex-col items-center gap-1 text-2xs text-soft">
      <input
        type="range"
        aria-label={label}
        className="h-[78px] w-4 accent-base-content [direction:rtl] [writing-mode:vertical-lr]"
        min={springs ? -1 : 0}
        max={1}
        step={0.01}
        value={value}
        onChange={({ target }) => move(Number(target.value))}
        onPointerUp={() => springs && move(0)}
        onKeyUp={() => springs && move(0)}
      />
      {label}
    </label>
  );
}

interface PianoKeyProps {
  midi: number;
  down: boolean;
  label: string;
  letter: string | undefined;
  className: string;
  style?: React.CSSProperties;
  order: number;
  onPress: (midi: number, velocity: number) => void;
  onRelease: (midi: number) => void;
}

function PianoKey({ midi, down, label, letter, className, style, onPress, onRelease }: PianoKeyProps) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={noteName(midi)}
      aria-pressed={down}
      className={`flex flex-col items-center justify-end pb-1 text-2xs ${className} ${down ? 'outline-2 -outline-offset-4 outline-current' : ''}`}
      style={style}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const box = event.currentTarget.getBoundingClientRect();
        onPress(midi, Math.round(40 + (87 * (event.clientY - box.top)) / box.height));
      }}
      onPointerUp={() => onRelease(midi)}
      onPointerCancel={() => onRelease(midi)}
    >
      <span className="uppercase opacity-60">{letter}</span>
      {label}
    </button>
  );
}

function isTyping(event: KeyboardEvent): boolean {
  return event.target instanceof HTMLElement && event.target.closest('input, textarea, select') !== null;
}
