import { useView } from './viewStore';

const STEPS_SECONDS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120];
const WANTED_TICKS = 10;

/** Times under the waveform. */
export function TimeScale() {
  const { fromSeconds, toSeconds } = useView();
  const length = toSeconds - fromSeconds;
  const step = STEPS_SECONDS.find((candidate) => length / candidate <= WANTED_TICKS) ?? 120;
  const ticks: number[] = [];
  for (let at = Math.ceil(fromSeconds / step) * step; at < toSeconds; at += step) ticks.push(at);
  return (
    <div className="hairline-b relative h-5 text-2xs text-soft" aria-hidden>
      {ticks.map((at) => (
        <span
          key={at}
          className="figures absolute border-l border-base-300 pl-1"
          style={{ left: `${(100 * (at - fromSeconds)) / length}%` }}
        >
          {formatTime(at, step)}
        </span>
      ))}
    </div>
  );
}

function formatTime(seconds: number, step: number): string {
  const digits = step < 0.1 ? 2 : step < 1 ? 1 : 0;
  const minutes = Math.floor(seconds / 60);
  const rest = (seconds - 60 * minutes).toFixed(digits);
  return `${minutes}:${rest.padStart(digits > 0 ? 3 + digits : 2, '0')}`;
}
