import { useEffect, useRef } from 'react';
import { useTransport } from '../../stores/transportStore';
import { useView } from './viewStore';

/** A line where playing is, or where it will start; moved without rendering while it plays. */
export function Playhead() {
  const line = useRef<HTMLDivElement>(null);
  const playing = useTransport((state) => state.playing);
  const cursorSeconds = useTransport((state) => state.cursorSeconds);
  const fromSeconds = useView((state) => state.fromSeconds);
  const toSeconds = useView((state) => state.toSeconds);
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      const { deck } = useTransport.getState();
      const seconds = playing && deck ? deck.positionSeconds : cursorSeconds;
      const place = (seconds - fromSeconds) / (toSeconds - fromSeconds);
      if (line.current) {
        line.current.style.left = `${100 * place}%`;
        line.current.style.visibility = place >= 0 && place <= 1 ? 'visible' : 'hidden';
      }
      if (playing) frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [playing, cursorSeconds, fromSeconds, toSeconds]);
  return <div ref={line} className="pointer-events-none absolute inset-y-0 w-[2px] -translate-x-px bg-base-content" />;
}
