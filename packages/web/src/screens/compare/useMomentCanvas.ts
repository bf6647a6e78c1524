import { useEffect, useRef } from 'react';
import { useSettings } from '../../app/settings';
import { type Inks, currentInks } from '../../drawing/inks';
import { useMoment } from '../../stores/comparedStore';

type Draw = (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => void;

/** Draws what is the same at every moment. */
export type DrawStill = Draw;

export type DrawMoment = (...of: [...Parameters<Draw>, seconds: number]) => void;

/** A canvas that is drawn anew once its size, its inks or what it shows change. */
export const useStillCanvas = (draw: DrawStill) => useDrawn(draw, false);

/**
 * A canvas that follows the moment that is looked at: drawn once a frame at most, past React, so that it
 * keeps up with a pointer.
 */
export const useMomentCanvas = (draw: DrawMoment) => useDrawn(draw, true);

function useDrawn(draw: DrawMoment, followsMoment: boolean) {
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
    const stop = followsMoment ? useMoment.subscribe(soon) : undefined;
    return () => {
      stop?.();
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, [draw, followsMoment, theme]);
  return canvas;
}
