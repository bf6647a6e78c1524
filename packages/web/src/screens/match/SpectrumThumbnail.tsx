import type { CandidatePicture } from '@imprint/core/matching/candidatePicture';

const WIDTH = 168;
const HEIGHT = 92;
const FLOOR_DB = -60;
const LOWEST_HZ = 30;
const HIGHEST_HZ = 16000;

const xOf = (hz: number) => (WIDTH * Math.log(hz / LOWEST_HZ)) / Math.log(HIGHEST_HZ / LOWEST_HZ);
const yOf = (db: number) => Math.min(HEIGHT, Math.max(0, (HEIGHT * (db - 4)) / (FLOOR_DB - 4)));

/** Mean spectra of cut and print over one another, small: the cut filled, the print as a line. */
export function SpectrumThumbnail({ picture, label }: { picture: CandidatePicture; label: string }) {
  const line = (levels: readonly number[]) =>
    picture.centresHz
      .map((hz, i) => ({ x: xOf(hz), y: yOf(levels[i]) }))
      .filter(({ x }) => x >= 0 && x <= WIDTH)
      .map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`)
      .join('');
  return (
    <svg
      role="img"
      aria-label={label}
      width={WIDTH}
      height={HEIGHT}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="shrink-0 border-b border-base-300"
      style={{ isolation: 'isolate' }}
    >
      <path d={`${line(picture.referenceDb)}V${HEIGHT}H0Z`} fill="var(--ink-reference)" opacity={0.55} />
      <path
        d={line(picture.patchDb)}
        fill="none"
        stroke="var(--ink-patch)"
        strokeWidth={2}
        style={{ mixBlendMode: 'var(--overprint)' as never }}
      />
    </svg>
  );
}
