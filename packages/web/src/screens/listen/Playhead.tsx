import { useEffect, useRef } from 'react';
import { useTransport } from '../../stores/transportStore';
import { useView } from './viewStore';

/** A line where playing is, or where it will start; moved without rendering. */
export function Playhead() {
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      const { deck, playing, cursorSeconds } = useTransport.getState();
      const { fromSeconds, toSeconds } = useView.getState();
      const seconds = playing && deck ? deck.positionSeconds : cursorSeconds;
      const place = (seconds - fromSeconds) / (toSeconds - fromSeconds);
      if (line.current) {
        line.current.style.left = `${100 * place}%`;
        line.current.style.visibility = place >= 0 && place <= 1 ? 'visible' : 'hidden';
      }
      frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, []);
  return <div ref={line} className="pointer-events-none absolute inset-y-0 w-[2px] -translate-x-px bg-base-content" />;
}
