import { useEffect, useRef } from 'react';
import { useTransport } from '../stores/transportStore';

const FLOOR_DB = -48;
/** How long a clip stays marked. */
const CLIP_HOLD_MS = 1500;

/**
 * Output peaks of both channels, drawn at the screen's own rate while the deck runs; turns solid to the end
 * when the output clips.
 */
export function Meter() {
  const bars = useRef<(HTMLDivElement | null)[]>([]);
  const box = useRef<HTMLDivElement>(null);
  const isRunning = useTransport((state) => state.isRunning);
  useEffect(() => {
    let frame = 0;
    let clippedUntil = 0;
    const draw = () => {
      const peaks = useTransport.getState().deck?.peaks ?? [0, 0];
      peaks.forEach((peak, i) => {
        const fraction = 1 - Math.min(1, Math.max(0, (20 * Math.log10(peak + 1e-6)) / FLOOR_DB));
        bars.current[i]?.style.setProperty('transform', `scaleX(${fraction})`);
        if (peak > 1) clippedUntil = performance.now() + CLIP_HOLD_MS;
      });
      if (box.current) box.current.dataset.clipped = String(performance.now() < clippedUntil);
      if (isRunning) frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [isRunning]);
  return (
    <div
      ref={box}
      role="img"
      aria-label="Output level"
      title="Output level, −48 dB to 0 dBFS; outlined when it clips"
      className="w-24 space-y-[3px] p-[3px] data-[clipped=true]:outline-2 data-[clipped=true]:outline-base-content"
    >
      {[0, 1].map((i) => (
        <div key={i} className="h-[3px] bg-base-300">
          <div
            ref={(element) => {
              bars.current[i] = element;
            }}
            className="h-full origin-left bg-base-content"
            style={{ transform: 'scaleX(0)' }}
          />
        </div>
      ))}
    </div>
  );
}
