import { useEffect, useRef } from 'react';
import { useSettings } from '../../app/settings';
import { type Inks, currentInks } from '../../drawing/inks';
import { useMoment } from '../../stores/comparedStore';

export type DrawMoment = (
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  inks: Inks,
  seconds: number,
) => void;

/**
 * A canvas that follows the moment that is looked at: drawn once a frame at most, past React, so that it
 * keeps up with a pointer.
 */
export function useMomentCanvas(draw: DrawMoment) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useSettings((settings) => settings.theme);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let frame = 0;
    const redraw = () => {
      frame = 0;
      const { clientWidth: width, clientHeight: height } = element;
      const ratio = window.devicePixelRatio;
      const context = element.getContext('2d');
      if (!context || width === 0) return;
      element.width = Math.round(width * ratio);
      element.height = Math.round(height * ratio);
      context.scale(ratio, ratio);
      draw(context, width, height, currentInks(), useMoment.getState().seconds);
    };
    const soon = () => {
      frame ||= requestAnimationFrame(redraw);
    };
    soon();
    const observer = new ResizeObserver(soon);
    observer.observe(element);
    const stop = useMoment.subscribe(soon);
    return () => {
      stop();
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, [draw, theme]);
  return canvas;
}
