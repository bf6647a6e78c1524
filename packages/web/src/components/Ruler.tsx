import { type ReactNode, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { formatParameter, formatValue, parseValue } from '@imprint/core/parameters/format';
import { type Parameter, clampToRange, positionOnScale, valueAtScale } from '@imprint/core/parameters/parameter';
import { beginsAValue } from '../drawing/axis';
import { gesture, usePatchStore } from '../stores/patchStore';

/** What was measured, and how sure: a band from `low` to `high`. */
export interface Measured {
  value: number;
  low: number;
  high: number;
}

interface RulerProps {
  parameter: Parameter;
  /** What is seen in place of its whole name, where a heading says the rest. */
  shown?: string;
  value: number;
  measured?: Measured;
  /** Between which values routes carry it, in words too. */
  sweep?: { from: number; to: number; label: string };
  /** What the value means as things are set; stands under the scale. */
  note?: string;
  /** Stands beside the label, such as a way to move the parameter. */
  beside?: ReactNode;
  onChange: (value: number) => void;
}

/** Of the whole ruler: an arrow key, and with Shift. */
const KEY_STEP = 0.01;
const FINE = 0.1;

/**
 * The control for a number: a scale in real units with the patch's handle in red below and what was measured
 * in blue above. Works by pointer (fine with Shift), by arrow keys, by the wheel while it has the focus, and
 * by typing a value with its unit.
 */
export function Ruler({
  parameter,
  shown = parameter.label,
  value,
  measured,
  sweep,
  note,
  beside,
  onChange,
}: RulerProps) {
  const track = useRef<HTMLDivElement>(null);
  const grip = useRef<{ x: number; position: number } | null>(null);
  /** What has been typed when a field opens; null while there is none. */
  const [typing, setTyping] = useState<string | null>(null);
  const position = positionOnScale(parameter, value);
  const percent = (v: number) => `${100 * positionOnScale(parameter, v)}%`;
  const whole = parameter.step >= 1;

  const moveTo = (next: number) => {
    const changed = valueAtScale(parameter, next);
    if (changed !== value) onChange(changed);
  };
  const nudge = (steps: number) => {
    if (whole)
      onChange(
        clampToRange(parameter, Math.round(value) + Math.sign(steps) * Math.max(1, Math.round(Math.abs(steps)))),
      );
    else moveTo(position + steps * KEY_STEP);
  };

  const wheel = useRef(nudge);
  useEffect(() => {
    wheel.current = nudge;
  });
  useEffect(() => {
    const element = track.current!;
    // Over a ruler that has not the focus the wheel scrolls. React's own listener could not keep the page
    // from scrolling.
    const onWheel = (event: WheelEvent) => {
      if (document.activeElement !== element) return;
      event.preventDefault();
      wheel.current((event.deltaY > 0 ? -1 : 1) * (event.shiftKey ? FINE : 1));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, []);

  const read = measured && `read ${formatValue(measured.value, parameter.unit)}`;
  return (
    <div className="min-w-0 py-[2px]">
      <div className="flex h-5 items-center gap-1.5">
        <span className="min-w-0 truncate" title={parameter.label}>
          {shown}
        </span>
        {beside}
        <span className="grow" />
        {read && <span className="figures shrink-0 text-2xs text-reference-text">{read}</span>}
        {!read && sweep && (
          <span className="figures min-w-0 truncate text-2xs text-soft" title={sweep.label}>
            {sweep.label}
          </span>
        )}
        {typing !== null ? (
          <TypedValue
            parameter={parameter}
            value={value}
            begun={typing}
            onDone={(typed) => {
              setTyping(null);
              if (typed !== undefined) onChange(typed);
              track.current?.focus();
            }}
          />
        ) : (
          <button
            type="button"
            className="figures shrink-0 cursor-text"
            title="Type a value with its unit"
            onClick={() => setTyping('')}
          >
            {formatParameter(parameter, value)}
          </button>
        )}
      </div>
      <div
        ref={track}
        role="slider"
        tabIndex={0}
        aria-label={parameter.label}
        aria-valuemin={parameter.min}
        aria-valuemax={parameter.max}
        aria-valuenow={value}
        aria-valuetext={[formatParameter(parameter, value), ...(note ? [note] : [])].join(', ')}
        className="relative h-[26px] cursor-ew-resize touch-none"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.begin();
          const { left, width } = track.current!.getBoundingClientRect();
          const at = (event.clientX - left) / width;
          // Near the handle it is taken as it is; elsewhere it jumps to the pointer.
          const start = Math.abs(at - position) * width < 12 ? position : at;
          grip.current = { x: event.clientX, position: start };
          if (start !== position) moveTo(start);
        }}
        onPointerMove={(event) => {
          if (!grip.current) return;
          const step = ((event.clientX - grip.current.x) / track.current!.clientWidth) * (event.shiftKey ? FINE : 1);
          grip.current = { x: event.clientX, position: Math.min(1, Math.max(0, grip.current.position + step)) };
          moveTo(grip.current.position);
        }}
        onPointerUp={() => {
          grip.current = null;
          gesture.end();
        }}
        onPointerCancel={() => {
          grip.current = null;
          gesture.end();
        }}
        title={`Double click: ${formatParameter(parameter, parameter.default)}${measured ? '; with Alt what was read' : ''}`}
        onDoubleClick={(event) => {
          if (!event.altKey) onChange(parameter.default);
          else if (measured) onChange(clampToRange(parameter, measured.value));
        }}
        onKeyDown={(event) => {
          const steps: Record<string, number> = {
            ArrowRight: 1,
            ArrowUp: 1,
            ArrowLeft: -1,
            ArrowDown: -1,
            PageUp: 10,
            PageDown: -10,
          };
          if (event.key === 'Enter') setTyping('');
          else if (beginsAValue(event)) setTyping(event.key);
          else if (event.key === 'Home') onChange(parameter.min);
          else if (event.key === 'End') onChange(parameter.max);
          else if (steps[event.key]) nudge(steps[event.key] * (event.shiftKey ? FINE : 1));
          else return;
          event.preventDefault();
        }}
      >
        <Ticks parameter={parameter} />
        {note && (
          <span className={`absolute top-[13px] text-2xs text-soft ${position > 0.5 ? 'left-0' : 'right-0'}`}>
            {note}
          </span>
        )}
        {measured && (
          <>
            <div
              className="absolute top-0 h-[12px]"
              style={{
                left: percent(measured.low),
                width: `calc(${percent(measured.high)} - ${percent(measured.low)})`,
                background: 'var(--ink-reference)',
                opacity: 0.3,
              }}
            />
            <div
              className="absolute -top-px h-[14px] w-[3px] -translate-x-1/2"
              style={{ left: percent(measured.value), background: 'var(--ink-reference)' }}
            />
          </>
        )}
        {sweep && (
          <div
            className="absolute top-[16px] h-[5px]"
            style={{
              left: percent(Math.min(sweep.from, sweep.to)),
              width: `calc(${percent(Math.max(sweep.from, sweep.to))} - ${percent(Math.min(sweep.from, sweep.to))})`,
              background: 'var(--ink-patch)',
              opacity: 0.45,
            }}
            title={sweep.label}
          />
        )}
        <svg
          className="absolute top-[14px] -translate-x-1/2"
          style={{ left: `${100 * position}%` }}
          width="14"
          height="12"
          viewBox="0 0 14 12"
          aria-hidden
        >
          <path d="M7 0 L14 12 H0 Z" fill="var(--ink-patch)" />
        </svg>
      </div>
    </div>
  );
}

const TICKS = 20;

function Ticks({ parameter }: { parameter: Parameter }) {
  const marks = parameter.scale === 'log' ? logMarks(parameter) : linearMarks();
  return (
    <div className="absolute inset-x-0 top-[12px] border-t border-base-content" aria-hidden>
      {marks.map(({ at, major }) => (
        <span
          key={at}
          className="absolute w-px bg-base-content"
          style={{ left: `${100 * at}%`, bottom: 0, height: major ? 8 : 4, opacity: major ? 0.8 : 0.45 }}
        />
      ))}
    </div>
  );
}

const linearMarks = () => Array.from({ length: TICKS + 1 }, (_, i) => ({ at: i / TICKS, major: i % 5 === 0 }));

/** Ticks at 1, 2, 5 of every decade; the decades are major. */
function logMarks(parameter: Parameter): { at: number; major: boolean }[] {
  const marks: { at: number; major: boolean }[] = [];
  for (
    let decade = Math.floor(Math.log10(parameter.min || parameter.max / 10000));
    10 ** decade <= parameter.max;
    decade++
  ) {
    for (const factor of [1, 2, 5]) {
      const value = factor * 10 ** decade;
      if (value >= parameter.min && value <= parameter.max)
        marks.push({ at: positionOnScale(parameter, value), major: factor === 1 });
    }
  }
  return marks;
}

function TypedValue({
  parameter,
  value,
  begun,
  onDone,
}: {
  parameter: Parameter;
  value: number;
  /** What has been typed already, in place of the present value. */
  begun: string;
  onDone: (value?: number) => void;
}) {
  const take = (text: string) => {
    const typed = parseValue(text, parameter.unit, usePatchStore.getState().patch?.bpm);
    if (typed === undefined) {
      toast.error(
        `“${text}” is no value of ${parameter.label}. Something like ${formatParameter(parameter, parameter.default)} is.`,
      );
      onDone();
      return;
    }
    const taken = clampToRange(parameter, typed);
    if (taken !== typed) {
      toast(
        `${parameter.label} goes from ${formatParameter(parameter, parameter.min)} to ${formatParameter(parameter, parameter.max)}.`,
      );
    }
    onDone(taken);
  };
  return (
    <input
      autoFocus
      className="input input-xs figures h-5 w-28 shrink-0 text-right"
      aria-label={`${parameter.label}, typed`}
      defaultValue={begun || formatParameter(parameter, value)}
      onFocus={({ target }) => begun === '' && target.select()}
      onBlur={() => onDone()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') take(event.currentTarget.value);
        if (event.key === 'Escape') onDone();
      }}
    />
  );
}
